// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.cli.session.Session;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * What to do, as commands that can be given: the core says what, and the command line alone knows
 * how it is typed.
 *
 * @param unlock the sources of passwords that were given, which a next command needs again
 * @param shell the shell that commands are typed into
 * @param named what the command was given, for what speaks of all of it
 * @param options the options that the command takes; none where that is not known
 */
public record CommandText(List<String> unlock, Shell shell, String named, Set<String> options) {
  private static final Set<Task> READS =
      Set.of(
          Task.SURVEY,
          Task.JOIN,
          Task.CONVERT,
          Task.TRUSTSTORE,
          Task.REQUEST,
          Task.REHEARSE,
          Task.RENEW_REVOCATION_LIST);
  private static final List<Input> TARGETS = List.of(Input.INTO, Input.NEW_PASSWORD_FILE);
  private static final Set<Task> WRITES = Set.of(Task.JOIN, Task.CONVERT, Task.TRUSTSTORE);

  public CommandText {
    unlock = List.copyOf(unlock);
    options = Set.copyOf(options);
  }

  /** For a command that was given nothing. */
  public CommandText(List<String> unlock, Shell shell) {
    this(unlock, shell, "the command line", Set.of());
  }

  /** In the shell of a session, for a command that takes these options and was given arguments. */
  public static CommandText of(
      Session session, List<String> unlock, List<String> arguments, Set<String> options) {
    CommandText plain = new CommandText(unlock, Shell.of(session.environment()));
    String named = arguments.isEmpty() ? plain.named : VisibleText.of(String.join(", ", arguments));
    return new CommandText(unlock, plain.shell, named, options);
  }

  /** What the same command can't be given is not proposed. */
  private boolean isTaken(Action action) {
    return options.isEmpty()
        || action.inputs().keySet().stream()
            .map(input -> OptionNames.of(input).option())
            .allMatch(option -> option.isEmpty() || options.contains(option.substring(2)));
  }

  /** The advice, and what to add to the same command to follow it. */
  public String sentence(Remedy remedy) {
    return joined(
        remedy.advice(OptionNames::mention),
        remedy.actions().stream()
            .filter(action -> action.task() == Task.AGAIN && isTaken(action))
            .map(this::form)
            .distinct()
            .toList());
  }

  /** The advice alone. */
  public String advice(Remedy remedy) {
    return remedy.advice(OptionNames::mention);
  }

  private static String joined(String advice, List<String> forms) {
    if (forms.isEmpty()) {
      return advice;
    }
    String lead = advice.endsWith(".") ? advice.substring(0, advice.length() - 1) : advice;
    return lead + ": " + String.join(" or ", forms) + ".";
  }

  /**
   * A command to give.
   *
   * @param complete whether it can be pasted as it is, with nothing to fill in
   */
  public record Line(String text, boolean complete) {}

  /** Other commands to give, and the forms of those in which something has to be filled in. */
  public List<Line> lines(Remedy remedy) {
    return remedy.actions().stream()
        .filter(action -> action.task() != Task.AGAIN)
        .map(this::lineOrForm)
        .distinct()
        .toList();
  }

  private Line lineOrForm(Action action) {
    boolean complete = isComplete(action);
    return new Line(complete ? line(action) : form(action), complete);
  }

  /** The commands that can be given as they are. */
  public List<String> commands(Remedy remedy) {
    return remedy.actions().stream().filter(this::isComplete).map(this::line).toList();
  }

  /** All of it in one paragraph. */
  public String paragraph(Remedy remedy) {
    return joined(
        remedy.advice(OptionNames::mention),
        remedy.actions().stream()
            .filter(action -> action.task() != Task.AGAIN || isTaken(action))
            .map(action -> lineOrForm(action).text())
            .distinct()
            .toList());
  }

  /** Whether nothing has to be filled in. */
  public boolean isComplete(Action action) {
    if (action.task() == Task.AGAIN
        || (action.on().isEmpty() && !unknown(action).isEmpty())
        || (WRITES.contains(action.task()) && !hasTarget(action))) {
      return false;
    }
    return action.inputs().entrySet().stream()
        .allMatch(
            input ->
                input.getKey() == Input.PASSWORD // it is asked for
                    || OptionNames.of(input.getKey()).value().isEmpty()
                    || !input.getValue().isEmpty());
  }

  private static boolean hasTarget(Action action) {
    return action.inputs().containsKey(Input.INTO) || action.inputs().containsKey(Input.REPLACE);
  }

  /** The command, ready to be pasted. */
  public String line(Action action) {
    return shell.line(words(action));
  }

  /** The command, with words in capitals for what has to be filled in. */
  public String form(Action action) {
    if (action.equals(Action.again(Input.PASSWORD))) {
      return "--unlock ask, --unlock file=PATH or --unlock env=NAME";
    }
    return String.join(" ", words(action).stream().map(this::shown).toList());
  }

  /** What is to be filled in is not quoted. */
  private String shown(String word) {
    return word.endsWith("...") || word.equals("HOST:PORT") ? word : shell.quote(word);
  }

  private List<String> words(Action action) {
    List<String> words = new ArrayList<>(start(action));
    if (action.task() == Task.CLOSE_FILE || action.task() == Task.CLOSE_FOLDER) {
      return words;
    }
    if (action.on().isEmpty()) {
      words.addAll(unknown(action));
    }
    words.addAll(files(action.on()));
    action.inputs().forEach((input, values) -> input(action, input, values, words));
    if (WRITES.contains(action.task()) && !hasTarget(action)) {
      words.addAll(List.of("--into", "FILE"));
    }
    boolean known = !action.on().isEmpty() || action.inputs().containsKey(Input.AUTHORITY);
    if (known
        && READS.contains(action.task())
        && isComplete(action) // in a form they would only hide what has to be filled in
        && !action.inputs().containsKey(Input.PASSWORD)) {
      unlock.forEach(source -> words.addAll(List.of("--unlock", source)));
    }
    return words;
  }

  private List<String> start(Action action) {
    return switch (action.task()) {
      case SURVEY -> List.of("symbolon", "survey");
      case JOIN -> List.of("symbolon", "join");
      case CONVERT -> List.of("symbolon", "convert");
      case TRUSTSTORE -> List.of("symbolon", "truststore");
      case REQUEST -> List.of("symbolon", "request");
      case REHEARSE -> List.of("symbolon", "rehearse");
      case PROBE -> List.of("symbolon", "probe");
      case ISSUE -> List.of("symbolon", "authority", "issue");
      case BRING_BACK -> List.of("symbolon", "undo");
      case FORGET_EARLIER -> List.of("symbolon", "undo", "--forget");
      case LIST_EARLIER -> List.of("symbolon", "undo", "--list");
      case FOUND_AUTHORITY -> List.of("symbolon", "authority", "found");
      case SIGN -> List.of("symbolon", "authority", "sign");
      case RENEW_REVOCATION_LIST -> List.of("symbolon", "authority", "revoke", "--fresh");
      case RENEW -> List.of("symbolon", "renew");
      case AGAIN -> List.of();
      case CLOSE_FILE -> closing(action, "600", "F");
      case CLOSE_FOLDER -> closing(action, "go-w", "(OI)(CI)F");
    };
  }

  /** A file whose name begins as an option does is not taken for one. */
  private static List<String> files(List<String> names) {
    return names.stream().map(name -> name.startsWith("-") ? "./" + name : name).toList();
  }

  private List<String> closing(Action action, String mode, String grant) {
    List<String> words =
        new ArrayList<>(shell == Shell.POSIX ? List.of("chmod", mode) : List.of("icacls"));
    words.addAll(files(action.on()));
    if (shell != Shell.POSIX) {
      String account = System.getProperty("user.name", "");
      words.addAll(List.of("/inheritance:r", "/grant:r", account + ":" + grant));
    }
    return words;
  }

  private static List<String> unknown(Action action) {
    return switch (action.task()) {
      case SURVEY, JOIN, CONVERT, TRUSTSTORE, SIGN -> List.of("FILE...");
      case PROBE -> List.of("HOST:PORT");
      case BRING_BACK, FORGET_EARLIER -> List.of("FILE");
      case LIST_EARLIER, FOUND_AUTHORITY -> List.of("FOLDER");
      case REQUEST,
          REHEARSE,
          ISSUE,
          RENEW_REVOCATION_LIST,
          RENEW,
          AGAIN,
          CLOSE_FILE,
          CLOSE_FOLDER ->
          List.of();
    };
  }

  private static void input(Action action, Input input, List<String> values, List<String> words) {
    OptionNames names = OptionNames.of(input);
    if (names.option().isEmpty()) {
      words.add(names.value());
    } else if (names.value().isEmpty()) {
      words.add(names.option());
    } else if (values.isEmpty()) {
      words.addAll(List.of(names.option(), names.value()));
    } else if (names.takesSeveral()) {
      words.add(names.option());
      words.addAll(files(values));
    } else {
      for (String value : values) {
        String given = names.prefix() + (TARGETS.contains(input) ? free(action, value) : value);
        // An alias that begins as an option does is a value all the same.
        words.addAll(
            given.startsWith("-")
                ? List.of(names.option() + "=" + given)
                : List.of(names.option(), given));
      }
    }
  }

  /** A target that is there already gets another name, unless it is to be changed. */
  private static String free(Action action, String target) {
    if (action.inputs().containsKey(Input.ADD) || action.inputs().containsKey(Input.REPLACE)) {
      return target;
    }
    // All targets of an action get the same number.
    List<String> targets =
        TARGETS.stream()
            .flatMap(input -> action.inputs().getOrDefault(input, List.of()).stream())
            .toList();
    for (int i = 1; i < 1_000; i++) {
      int number = i;
      if (targets.stream().map(one -> numbered(one, number)).noneMatch(CommandText::exists)) {
        return numbered(target, number);
      }
    }
    return target;
  }

  private static String numbered(String file, int number) {
    int dot = file.lastIndexOf('.');
    String suffix = number == 1 ? "" : "-" + number;
    return dot < 0 ? file + suffix : file.substring(0, dot) + suffix + file.substring(dot);
  }

  private static boolean exists(String file) {
    try {
      return Files.exists(Path.of(file));
    } catch (InvalidPathException e) {
      return false;
    }
  }
}
