package io.symbolon.cli.demo;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.survey.ShellQuote;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/**
 * The story from a pile of files to a server that answers over TLS. Each command is shown as it
 * would be typed, and runs through the same code as if it had been.
 */
public final class Demo {
  private final Path folder;
  private final PrintStream out;
  private final Clock clock;
  private final Style style;
  private final Runner runner;
  private final List<String> missed = new ArrayList<>();

  /** Runs one command line and returns its exit code. */
  @FunctionalInterface
  public interface Runner {
    /** Runs a command. */
    int run(List<String> arguments);
  }

  /**
   * How things are made to stand out.
   *
   * @param heading a heading
   * @param command a command as it is typed
   * @param faint what matters less
   */
  public record Style(
      UnaryOperator<String> heading, UnaryOperator<String> command, UnaryOperator<String> faint) {}

  /** A demo that writes its files to a new folder. */
  public Demo(Path folder, PrintStream out, Clock clock, Style style, Runner runner) {
    this.folder = folder;
    this.out = out;
    this.clock = clock;
    this.style = style;
    this.runner = runner;
  }

  /** Tells the story; returns whether everything went as it should. */
  public boolean run() {
    long started = System.nanoTime();
    try {
      story();
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The demo was not run to its end.",
          "The system says: " + e.getMessage() + ".",
          "Check the rights and the free space of the folder.",
          e);
    }
    summary((System.nanoTime() - started) / 1_000_000);
    return missed.isEmpty();
  }

  private void story() throws IOException {
    Path pile = folder.resolve("pile");
    try {
      Files.createDirectory(folder);
      Files.createDirectory(pile);
    } catch (FileAlreadyExistsException e) {
      throw new SymbolonException(
          Reason.EXISTS,
          "The demo was not run.",
          "There is a folder " + folder + " already.",
          "Name a new folder with --into FOLDER.",
          e);
    }
    DemoPile.write(pile, clock.instant());

    heading("The files that were sent for " + DemoPile.HOST);
    say("A key, a reply and a bundle, with names that mislead. What are they, and do they fit?");
    symbolon(0, "survey", pile.toString(), "--host", DemoPile.HOST);

    heading("A keystore for the server");
    Path keystore = folder.resolve("ingest.p12");
    Path keyPassword = folder.resolve("ingest.pass");
    symbolon(
        0, "join", pile.toString(), "--into", keystore.toString(), "--seal", "new=" + keyPassword);

    heading("A truststore for its clients");
    Path truststore = folder.resolve("truststore.p12");
    Path trustPassword = folder.resolve("truststore.pass");
    symbolon(
        0,
        "truststore",
        pile.resolve("bundle.crt").toString(),
        "--into",
        truststore.toString(),
        "--seal",
        "new=" + trustPassword);

    heading("The same for others");
    say(
        "A web server wants the chain in PEM, without the key; an old agent a JKS with two passwords.");
    symbolon(
        0,
        "convert",
        keystore.toString(),
        "--unlock",
        "file=" + keyPassword,
        "--part",
        "full-chain",
        "--into",
        folder.resolve("chain.pem").toString());
    symbolon(
        0,
        "convert",
        keystore.toString(),
        "--unlock",
        "file=" + keyPassword,
        "--into",
        folder.resolve("agent.jks").toString(),
        "--seal",
        "new=" + folder.resolve("agent.pass"),
        "--seal-key",
        "new=" + folder.resolve("agent-key.pass"));

    heading("A server with that keystore");
    try (DemoServer server = DemoServer.start(folder, keystore, keyPassword, DemoPile.HOST)) {
      say("An embedded Tomcat serves " + keystore + " on 127.0.0.1:" + server.port() + ".");
      symbolon(
          0,
          "probe",
          "127.0.0.1:" + server.port(),
          "--host",
          DemoPile.HOST,
          "--trust",
          truststore.toString(),
          "--unlock",
          "file=" + trustPassword);

      heading("A plain Java client");
      String url = "https://" + DemoPile.HOST + ":" + server.port() + "/";
      ClientProcess client = new ClientProcess(folder, url);
      say("With the truststore it gets the page " + url + ":");
      client(client.withTruststore(truststore, trustPassword), 0);
      say("Without the truststore the same client refuses the server, as it should:");
      client(client.withoutTruststore(), 1);
    }
  }

  private void heading(String text) {
    out.println();
    out.println(style.heading().apply("== " + text));
  }

  private void say(String text) {
    out.println(text);
  }

  private void symbolon(int expected, String... arguments) {
    List<String> all = List.of(arguments);
    String line = all.stream().map(ShellQuote::quote).collect(Collectors.joining(" "));
    out.println();
    out.println(style.command().apply("$ symbolon " + line));
    int code = runner.run(all);
    if (code != expected) {
      missed.add("symbolon " + arguments[0] + " ended with " + code + " instead of " + expected);
    }
  }

  private void client(ClientProcess.Result result, int expected) {
    result.output().lines().forEach(line -> out.println("    " + line));
    if (result.exitCode() != expected) {
      missed.add("the client ended with " + result.exitCode() + " instead of " + expected);
    }
  }

  private void summary(long milliseconds) {
    heading(missed.isEmpty() ? "Done" : "Not as it should be");
    missed.forEach(out::println);
    if (missed.isEmpty()) {
      say("A few commands, no order to remember: from a pile of files to a server that answers.");
    }
    out.println(
        style.faint().apply(String.format("%.1f seconds. The files:", milliseconds / 1000.0)));
    out.println("  " + folder.resolve("pile") + style.faint().apply("  what was sent"));
    out.println(
        "  "
            + folder.resolve("ingest.p12")
            + style.faint().apply("  the server's keystore; its password is in ingest.pass"));
    out.println(
        "  "
            + folder.resolve("truststore.p12")
            + style.faint().apply("  its clients' truststore; its password is in truststore.pass"));
    out.println(
        "  "
            + folder.resolve("chain.pem")
            + style.faint().apply("  and agent.jks: the same for a web server and for an agent"));
  }
}
