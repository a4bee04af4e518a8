// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/**
 * The story from a pile of files to a server that answers over TLS. Each command is shown as it
 * would be typed, and runs through the same code as if it had been.
 */
public final class Demo {
  private final Path folder;
  private final Clock clock;
  private final Teller teller;

  /** Runs one command line and returns its exit code. */
  @FunctionalInterface
  public interface Runner {
    /** Runs a command. */
    int run(List<String> arguments);
  }

  /**
   * How things are made to stand out.
   *
   * @param command a command as it is typed
   * @param faint what matters less
   * @param typed a command line as it is typed
   */
  public record Style(
      UnaryOperator<String> heading,
      UnaryOperator<String> command,
      UnaryOperator<String> faint,
      Function<List<String>, String> typed) {}

  /** A demo that writes its files to a new folder. */
  public Demo(Path folder, PrintStream out, Clock clock, Style style, Runner runner) {
    this.folder = folder;
    this.clock = clock;
    this.teller = new Teller(folder, out, style, runner);
  }

  /** Tells the story; returns whether everything went as it should. */
  public boolean run() {
    long started = System.nanoTime();
    try {
      Files.createDirectory(folder);
      PileStory.tell(teller, clock);
      AuthorityStory.tell(teller);
      TomcatStory.tell(teller);
      DescribedStory.tell(teller);
      OrderStory.tell(teller, clock);
    } catch (FileAlreadyExistsException e) {
      throw new SymbolonException(
          Reason.EXISTS,
          "The demo was not run.",
          "There is a folder " + folder + " already.",
          "Name a new folder with --into FOLDER.",
          e);
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The demo was not run to its end.",
          "The system says: " + e.getMessage() + ".",
          "Check the rights and the free space of the folder.",
          e);
    }
    summary((System.nanoTime() - started) / 1_000_000);
    return teller.missed().isEmpty();
  }

  private void summary(long milliseconds) {
    boolean well = teller.missed().isEmpty();
    teller.heading(well ? "Done" : "Not as it should be");
    teller.missed().forEach(teller::say);
    if (well) {
      teller.say(
          "From a pile of files to a server that answers, from nothing to one, into its settings, and by itself.");
    }
    teller.faint(String.format("%.1f seconds. The files:", milliseconds / 1000.0));
    teller.file(teller.at("pile"), "what was sent");
    teller.file(teller.at("ingest.p12"), "the server's keystore; its password is in ingest.pass");
    teller.file(teller.at("truststore.p12"), "its clients' truststore; see truststore.pass");
    teller.file(teller.at("chain.pem"), "and agent.jks: the same for a web server and an agent");
    teller.file(teller.at("root"), "and issuing: the authorities, with what they issued");
    teller.file(teller.at("catalogue.p12"), "the keystore in which a key waited for its reply");
    teller.file(teller.at("buoys"), "the clients' keystores; buoy-passwords has their passwords");
    teller.file(teller.at("tomcat"), "a Tomcat with all of it in its settings");
    teller.file(teller.at("currentflow"), "an engine that descriptions/currentflow.yaml describes");
    teller.file(teller.at("ordered.p12"), "what was ordered and renewed; see account");
    teller.file(teller.at("rules"), "what three receivers want to see in a request");
  }
}
