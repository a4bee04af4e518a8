package io.symbolon.cli;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import io.symbolon.VisibleText;
import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import org.apache.commons.cli.CommandLine;

/** Where a command's result goes: text for people, or one JSON document. */
final class Output {
  private final Session session;
  private final boolean json;
  private final Paint paint;

  private Output(Session session, boolean json, Paint paint) {
    this.session = session;
    this.json = json;
    this.paint = paint;
  }

  /** A value that can write itself as JSON. */
  @FunctionalInterface
  interface JsonValue {
    void write(JsonGenerator json) throws IOException;
  }

  static Output of(Session session, CommandLine parsed) {
    boolean colour =
        session.outIsTerminal()
            && !parsed.hasOption("plain")
            && session.environment().getOrDefault("NO_COLOR", "").isEmpty()
            && !session.environment().getOrDefault("TERM", "").equals("dumb");
    return new Output(session, parsed.hasOption("json"), new Paint(colour));
  }

  boolean isJson() {
    return json;
  }

  Paint paint() {
    return paint;
  }

  PrintStream out() {
    return session.out();
  }

  int width() {
    return session.width();
  }

  /** Writes one document. */
  void json(JsonValue value) {
    JsonFactory factory = JsonFactory.builder().build();
    try (JsonGenerator generator = factory.createGenerator(session.out())) {
      generator.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
      generator.setPrettyPrinter(new DefaultPrettyPrinter());
      value.write(generator);
      generator.writeRaw('\n');
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** One line of text. */
  void line(String text) {
    session.out().println(text);
  }

  /** Text broken into lines at spaces, each indented. */
  void wrapped(String indent, String text) {
    StringBuilder line = new StringBuilder(indent);
    boolean first = true;
    for (String word : text.split(" ", -1)) {
      if (!first && line.length() + 1 + word.length() > width()) {
        line(line.toString());
        line = new StringBuilder(indent);
        first = true;
      }
      line.append(first ? "" : " ").append(word);
      first = false;
    }
    line(line.toString());
  }

  static String shown(Object text) {
    return VisibleText.of(text.toString());
  }
}
