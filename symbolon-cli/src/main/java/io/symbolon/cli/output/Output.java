// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.cli.session.Session;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import java.io.PrintStream;
import java.util.List;
import java.util.Set;
import org.apache.commons.cli.CommandLine;

/** Where a command's result goes: text for people, or one JSON document. */
public final class Output {
  private final Session session;
  private final boolean json;
  private final Paint paint;
  private final CommandText commands;

  private Output(Session session, boolean json, Paint paint, CommandText commands) {
    this.session = session;
    this.json = json;
    this.paint = paint;
    this.commands = commands;
  }

  /** The output of a command that takes these options. */
  public static Output of(Session session, CommandLine parsed, Set<String> options) {
    boolean colour =
        session.outIsTerminal()
            && !parsed.hasOption("plain")
            && session.environment().getOrDefault("NO_COLOR", "").isEmpty()
            && !session.environment().getOrDefault("TERM", "").equals("dumb");
    String[] unlock = parsed.getOptionValues("unlock");
    return new Output(
        session,
        parsed.hasOption("json"),
        new Paint(colour),
        CommandText.of(
            session, unlock == null ? List.of() : List.of(unlock), parsed.getArgList(), options));
  }

  public boolean isJson() {
    return json;
  }

  public Paint paint() {
    return paint;
  }

  /** How remedies are worded here. */
  public CommandText commands() {
    return commands;
  }

  /** What to do about something: the advice, and below it the commands to give. */
  public void remedy(String indent, Remedy remedy) {
    if (!remedy.isEmpty()) {
      wrapped(indent, "To do: " + commands.sentence(remedy));
      for (CommandText.Line command : commands.lines(remedy)) {
        pasted(indent + (command.complete() ? paint.command(command.text()) : command.text()));
      }
    }
  }

  public PrintStream out() {
    return session.out();
  }

  public int width() {
    return session.width();
  }

  /** Writes one document: a record, field by field in its order. */
  public void json(Record document) {
    out().println(JsonDocuments.text(document));
  }

  /** One line of text; where a terminal is narrower, it goes on below, further in. */
  public void line(String text) {
    session
        .out()
        .println(
            session.columns().isPresent() ? Folding.of(text, session.columns().getAsInt()) : text);
  }

  /** One line that is to be pasted, and so is never broken. */
  public void pasted(String text) {
    session.out().println(text);
  }

  /** Text broken into lines at spaces, each indented. */
  public void wrapped(String indent, String text) {
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

  public static String shown(Object text) {
    return VisibleText.of(text.toString());
  }
}
