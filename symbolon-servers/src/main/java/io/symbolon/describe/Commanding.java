// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.describe.Description.Command;
import io.symbolon.describe.Description.Taking;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.rule.BoundedMatch;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Reload;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.RunningServer;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** The programs of a described server, with their words filled in. */
final class Commanding {
  private final Description description;
  private final Machine machine;
  private final Installation installation;

  Commanding(Description description, Machine machine, Installation installation) {
    this.description = description;
    this.machine = machine;
    this.installation = installation;
  }

  /** The server's process. */
  private Optional<RunningServer> running() {
    Optional<String> process = description.where().process();
    if (process.isEmpty() || machine.isWindows()) {
      return Optional.empty();
    }
    Pattern title = Pattern.compile("(?:\\S*/)?" + Pattern.quote(process.get()) + "(?:[ :].*)?");
    return RunningServer.find(title, this::isMeant)
        .or(
            () ->
                description
                    .account(machine, installation)
                    .filter(account -> isUsualHome())
                    .flatMap(account -> RunningServer.ofAccount(title, account)));
  }

  /**
   * Whether a process is the one of these settings: it names them, or it names none of their name
   * while they are where this server usually has them.
   */
  private boolean isMeant(List<String> typed) {
    List<String> words =
        description.where().processWords().stream()
            .flatMap(word -> filled(Template.of(word)).stream())
            .toList();
    if (!words.stream().allMatch(word -> typed.stream().anyMatch(one -> one.contains(word)))) {
      return false;
    }
    String main = installation.main().toString();
    String home = installation.home().toString();
    if (typed.stream().anyMatch(one -> isPath(one, main) || isPath(one, home))) {
      return true;
    }
    String name = "/" + installation.main().getFileName();
    boolean others = typed.stream().anyMatch(one -> one.contains(name));
    return !others && (isUsualHome() || !words.isEmpty() || namesNothing());
  }

  /** Whether a word is a path, or has it behind a sign, such as {@code --config=PATH}. */
  private static boolean isPath(String word, String path) {
    return word.equals(path) || word.equals(path + "/") || word.endsWith("=" + path);
  }

  /** Whether the process of this kind of server never names its settings. */
  private boolean namesNothing() {
    return description.where().script().isEmpty();
  }

  private boolean isUsualHome() {
    return description.where().homes().contains(installation.home().toString());
  }

  /** The system's script for the server: for one that it has started, with the usual settings. */
  private Optional<String> script() {
    Optional<RunningServer> running = running();
    return description
        .where()
        .script()
        .map(name -> machine.path("/etc/init.d/" + name))
        .filter(path -> isUsualHome() && Files.isExecutable(path))
        .filter(path -> running.isPresent() && running.get().unit().isEmpty())
        .map(Path::toString);
  }

  private Optional<String> filled(Template template) {
    return template.fill(
        name ->
            switch (name) {
              case "home" -> Optional.of(installation.home().toString());
              case "main" -> Optional.of(installation.main().toString());
              case "program" -> installation.program().map(Path::toString);
              case "account" -> description.account(machine, installation);
              case "pid" -> running().map(one -> String.valueOf(one.id()));
              case "unit" -> running().flatMap(RunningServer::unit);
              case "script" -> script();
              case "port" -> description.port().map(String::valueOf);
              default -> Optional.empty();
            });
  }

  /** The command; nothing where something in its words is not known here. */
  Optional<ServerCommand> command(Command command) {
    List<String> words = new ArrayList<>();
    for (Template word : command.run()) {
      Optional<String> text = filled(word);
      if (text.isEmpty()) {
        return Optional.empty();
      }
      words.add(text.get());
    }
    if (!words.get(0).startsWith("/") && words.get(0).indexOf('/') > 0) {
      words.set(0, installation.home().resolve(words.get(0)).toString());
    }
    Optional<String> account =
        command.asAccount() ? description.account(machine, installation) : Optional.empty();
    if (command.asAccount() && account.isEmpty() && !machine.isWindows()) {
      throw notOneAccount();
    }
    ServerCommand plain =
        account.map(one -> ServerCommand.as(one, words)).orElseGet(() -> ServerCommand.of(words));
    boolean ofSystem = command.run().stream().anyMatch(one -> one.has("unit") || one.has("script"));
    // The system's own programs start the server as its account; they read nothing of its home.
    ServerCommand whole = ofSystem ? plain : plain.reading(List.of(installation.home()));
    return Optional.of(
        whole
            .within(Duration.ofSeconds(command.seconds()))
            .succeedingBy(result -> isGood(command, result)));
  }

  private SymbolonException notOneAccount() {
    return new SymbolonException(
        Reason.NOT_TRUSTED,
        "The programs of " + description.title() + " are not started.",
        "They are to run as the account whose the folder "
            + VisibleText.of(installation.home().toString())
            + " is, and not one account alone controls it and the way to it.",
        "Let it and its folders belong to root or to one account, without rights to write for others.");
  }

  private static boolean isGood(Command command, CommandResult result) {
    return result.end() == CommandResult.End.ENDED
        && command.good().contains(result.exitCode())
        && command.right().map(one -> BoundedMatch.finds(one, result.output())).orElse(true)
        && !command.wrong().map(one -> BoundedMatch.finds(one, result.output())).orElse(false);
  }

  Optional<OwnCheck> check() {
    return description
        .commands()
        .check()
        .flatMap(this::command)
        .map(command -> new OwnCheck(command, Optional.empty()));
  }

  Reload reload(boolean settings) {
    Taking taking = settings ? description.commands().settings() : description.commands().files();
    Optional<ServerCommand> command =
        taking.commands().stream().flatMap(one -> command(one).stream()).findFirst();
    Optional<RunningServer> process = running();
    boolean running = description.where().process().isEmpty() || process.isPresent();
    String title = description.title();
    Reload.Kind kind =
        taking.byItself()
            ? Reload.Kind.BY_ITSELF
            : command.isEmpty()
                ? Reload.Kind.BY_HAND
                : taking.interrupts() ? Reload.Kind.RESTART : Reload.Kind.RELOAD;
    String says =
        taking
            .says()
            .orElse(
                switch (kind) {
                  case BY_ITSELF -> title + " notices new files by itself.";
                  case BY_HAND ->
                      "The description names no program that is known here: restart "
                          + title
                          + " by hand.";
                  case RESTART -> title + " is restarted: connections end.";
                  case RELOAD -> title + " takes new files; connections stay.";
                });
    return new Reload(
            kind,
            command.stream().toList(),
            running && (taking.byItself() || command.isPresent()),
            says)
        .withProcess(process);
  }
}
