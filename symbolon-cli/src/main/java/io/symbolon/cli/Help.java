// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.util.Properties;

/** The overview of the commands and the version. */
final class Help {
  private Help() {}

  static void overview(PrintStream out) {
    out.println("symbolon COMMAND [FILE...] [options]");
    out.println();
    out.println(
        "Finds the halves of keys and certificates in whatever files you were given, joins");
    out.println("them, packs them as servers want them, and proves that they fit.");
    out.println();
    for (Command command : Command.values()) {
      out.printf("  %-11s %s%n", command.word(), command.purpose());
    }
    out.println();
    out.println(
        "Each command tells its options with --help. Passwords are never options themselves;");
    out.println("they come from a prompt (ask), a file (file=PATH) or the environment (env=NAME).");
    out.println(
        "Exit codes: 0 done; 1 done, with a problem; 2 command line; 3 input; 4 not written;");
    out.println("5 nobody answered; 70 a defect in Symbolon.");
  }

  static String version() {
    try (InputStream in = Help.class.getResourceAsStream("/symbolon-version.properties")) {
      Properties properties = new Properties();
      if (in != null) {
        properties.load(in);
      }
      return properties.getProperty("version", "unknown");
    } catch (IOException e) {
      return "unknown";
    }
  }
}
