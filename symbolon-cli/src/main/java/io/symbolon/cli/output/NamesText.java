// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.text.VisibleText;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.List;

/** The names of a certificate or a request, for a person. */
public final class NamesText {
  private static final int NAMES_SHOWN = 30;

  private NamesText() {}

  public static void print(Output output, List<GeneralName> names) {
    print(output, "  ", names);
  }

  public static void print(Output output, String indent, List<GeneralName> names) {
    String lead = indent + "names    ";
    for (GeneralName name : names.subList(0, Math.min(NAMES_SHOWN, names.size()))) {
      output.line(lead + VisibleText.of(name.toString()) + output.paint().faint(typed(name)));
      lead = indent + "         ";
    }
    if (names.size() > NAMES_SHOWN) {
      output.line(lead + output.paint().faint("and " + (names.size() - NAMES_SHOWN) + " more"));
    }
  }

  private static String typed(GeneralName name) {
    if (name.kind() != GeneralName.NameForm.DNS || !name.value().contains("xn--")) {
      return "";
    }
    return "  " + VisibleText.of(HostName.parse(name.value()).typed());
  }
}
