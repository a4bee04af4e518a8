package io.symbolon.cli;

import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What to do, as commands that can be given: the core says what, and the command line alone knows
 * how it is typed.
 *
 * @param unlock the sources of passwords that were given, which a next command needs again
 * @param shell the shell that commands are typed into
 */
record CommandText(List<String> unlock, Shell shell) {
  private static final Set<Task> READS =
      Set.of(
          Task.SURVEY,
          Task.JOIN,
          Task.CONVERT,
          Task.TRUSTSTORE,
          Task.REQUEST,
          Task.REHEARSE,
          Task.RENEW_REVOCATION_LIST);
  private static final Set<Task> WRITES = Set.of(Task.JOIN, Task.CONVERT, Task.TRUSTSTORE);
  private static final Set<Task> OF_FILES =
      Set.of(Task.SURVEY, Task.JOIN, Task.CONVERT, Task.TRUSTSTORE);

  CommandText {
    unlock = List.copyOf(unlock);
  }

  static CommandText of(Session session, List<String> unlock) {
    return new CommandText(
        unlock, Shell.of(session.environment(), System.getProperty("os.name", "")));
  }

  /** The advice, and what to add to the same command to follow it. */
  String sentence(Remedy remedy) {
    return joined(
        remedy.advice(),
        remedy.actions().stream()
            .filter(action -> action.task() == Task.AGAIN)
            .map(this::form)
            .distinct()
            .toList());
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
  record Line(String text, boolean complete) {}

  /** Other commands to give, and the forms of those in which something has to be filled in. */
  List<Line> lines(Remedy remedy) {
    return remedy.actions().stream()
        .filter(action -> action.task() != Task.AGAIN)
        .map(
            action ->
                isComplete(action) ? new Line(line(action), true) : new Line(form(action), false))
        .distinct()
        .toList();
  }

  /** The commands that can be given as they are. */
  List<String> commands(Remedy remedy) {
    return remedy.actions().stream().filter(this::isComplete).map(this::line).toList();
  }

  /** All of it in one paragraph. */
  String paragraph(Remedy remedy) {
    return joined(
        remedy.advice(),
        remedy.actions().stream()
            .map(action -> isComplete(action) ? line(action) : form(action))
            .distinct()
            .toList());
  }

  /** Whether nothing has to be filled in. */
  boolean isComplete(Action action) {
    if (action.task() == Task.AGAIN
        || (action.on().isEmpty() && OF_FILES.contains(action.task()))
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
  String line(Action action) {
    return shell.line(words(action));
  }

  private String form(Action action) {
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
    for (String one : action.on()) {
      words.add(one.startsWith("-") ? "./" + one : one);
    }
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
      case LIST_EARLIER -> List.of("symbolon", "undo", "--list");
      case FOUND_AUTHORITY -> List.of("symbolon", "authority", "found");
      case SIGN -> List.of("symbolon", "authority", "sign");
      case RENEW_REVOCATION_LIST -> List.of("symbolon", "authority", "revoke", "--fresh");
      case AGAIN -> List.of();
      case CLOSE_FILE ->
          shell == Shell.POSIX ? closing("chmod", "600", action) : windows(action, "${account}:F");
      case CLOSE_FOLDER ->
          shell == Shell.POSIX
              ? closing("chmod", "go-w", action)
              : windows(action, "${account}:(OI)(CI)F");
    };
  }

  private static List<String> closing(String program, String mode, Action action) {
    List<String> words = new ArrayList<>(List.of(program, mode));
    action.on().forEach(file -> words.add(file.startsWith("-") ? "./" + file : file));
    return words;
  }

  private static List<String> windows(Action action, String grant) {
    List<String> words = new ArrayList<>(List.of("icacls"));
    words.addAll(action.on());
    words.addAll(
        List.of(
            "/inheritance:r",
            "/grant:r",
            grant.replace("${account}", System.getProperty("user.name", ""))));
    return words;
  }

  private static List<String> unknown(Action action) {
    return switch (action.task()) {
      case SURVEY, JOIN, CONVERT, TRUSTSTORE, SIGN -> List.of("FILE...");
      case PROBE -> List.of("HOST:PORT");
      case LIST_EARLIER, FOUND_AUTHORITY -> List.of("FOLDER");
      case REQUEST, REHEARSE, RENEW_REVOCATION_LIST, AGAIN, CLOSE_FILE, CLOSE_FOLDER -> List.of();
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
      words.addAll(values);
    } else {
      for (String value : values) {
        boolean target = input == Input.INTO || input == Input.NEW_PASSWORD_FILE;
        words.add(names.option());
        words.add(names.prefix() + (target ? free(action.inputs(), value) : value));
      }
    }
  }

  /** A target that is there already gets another name, unless it is to be changed. */
  private static String free(Map<Input, List<String>> inputs, String target) {
    if (inputs.containsKey(Input.ADD) || inputs.containsKey(Input.REPLACE)) {
      return target;
    }
    int dot = target.lastIndexOf('.');
    String base = dot < 0 ? target : target.substring(0, dot);
    String ending = dot < 0 ? "" : target.substring(dot);
    List<String> targets = new ArrayList<>();
    for (Input input : List.of(Input.INTO, Input.NEW_PASSWORD_FILE)) {
      targets.addAll(inputs.getOrDefault(input, List.of()));
    }
    for (int number = 1; number < 1_000; number++) {
      String suffix = number == 1 ? "" : "-" + number;
      boolean taken =
          targets.stream()
              .map(
                  one -> {
                    int at = one.lastIndexOf('.');
                    return at < 0
                        ? one + suffix
                        : one.substring(0, at) + suffix + one.substring(at);
                  })
              .anyMatch(CommandText::exists);
      if (!taken) {
        return base + suffix + ending;
      }
    }
    return target;
  }

  private static boolean exists(String file) {
    try {
      return Files.exists(Path.of(file));
    } catch (InvalidPathException e) {
      return false;
    }
  }
}
