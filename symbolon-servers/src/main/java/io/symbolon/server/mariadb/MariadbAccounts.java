// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.mariadb;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal.Step;
import io.symbolon.server.ServerRoles;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.ServerCommand;
import io.symbolon.server.wish.ClientRole;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Accounts of MariaDB that let in the holder of one certificate. Their clause of before is asked
 * first, over the local socket, so that it can be put in again.
 */
public final class MariadbAccounts implements ServerRoles {
  /** Made by the registry of services. */
  public MariadbAccounts() {}

  @Override
  public String server() {
    return "mariadb";
  }

  @Override
  public List<Step> propose(Machine machine, Installation installation, List<ClientRole> roles) {
    List<Step> steps = new ArrayList<>();
    Optional<String> socket = socket(machine, installation);
    for (ClientRole role : roles) {
      String clause = "SUBJECT " + Account.quoted(SubjectLine.of(role.certificate().subject()));
      Account account = account(machine, socket, role.role());
      if (!account.require().equals(clause)) {
        steps.add(
            new Step(
                "let only the holder of this subject into the account "
                    + VisibleText.of(account.user() + '@' + account.host())
                    + ", which takes effect at once",
                telling(socket, account.altered(clause)),
                Optional.of(telling(socket, account.altered(account.require()))),
                Step.Order.BEHIND_FILES,
                List.of()));
      }
    }
    return steps;
  }

  /** The account that a role names: USER, or USER@HOST where there are several. */
  private static Account account(Machine machine, Optional<String> socket, String role) {
    int at = role.lastIndexOf('@');
    String user = at < 0 ? role : role.substring(0, at);
    Optional<String> host = at < 0 ? Optional.empty() : Optional.of(role.substring(at + 1));
    if (user.isEmpty() || user.chars().anyMatch(c -> c < ' ' || c == 0x7F)) {
      throw refused(
          "'" + VisibleText.of(role) + "' is not an account.",
          "Name one that is there: " + Input.ROLE.mention("USER=FILE"));
    }
    CommandResult result = machine.programs().run(telling(socket, Account.question(user)));
    if (!result.isGood()) {
      throw refused(
          "The server was asked for its account over the local socket. It said: "
              + VisibleText.of(result.output().strip().lines().findFirst().orElse("nothing")),
          "Start the server, and give this command as root, or as whoever may change accounts.");
    }
    List<Account> all = Account.read(user, result.output());
    List<Account> meant =
        all.stream().filter(one -> host.map(one.host()::equals).orElse(true)).toList();
    if (meant.size() == 1) {
      return meant.get(0);
    }
    String hosts =
        all.stream()
            .map(one -> VisibleText.of(one.user() + '@' + one.host()))
            .collect(Collectors.joining(", "));
    throw refused(
        all.isEmpty()
            ? "MariaDB has no account " + VisibleText.of(user) + "."
            : "MariaDB has these accounts: " + hosts + ".",
        all.isEmpty()
            ? "Make it first: CREATE USER ... REQUIRE X509"
            : "Say which is meant: " + Input.ROLE.mention("USER@HOST=FILE"));
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "No account of MariaDB was changed.", seen, remedy);
  }

  /** The socket that the server's own settings name; nothing where it is the usual one. */
  private static Optional<String> socket(Machine machine, Installation installation) {
    CommandResult result =
        machine
            .programs()
            .run(
                ServerCommand.of(
                    "my_print_defaults",
                    "--defaults-file=" + installation.main(),
                    "client-server",
                    "mysqld",
                    "server",
                    "mariadb",
                    "mariadbd"));
    return result
        .output()
        .lines()
        .filter(line -> line.startsWith("--socket="))
        .reduce((one, later) -> later)
        .map(line -> line.substring("--socket=".length()));
  }

  private static ServerCommand telling(Optional<String> socket, String statement) {
    List<String> words =
        new ArrayList<>(
            List.of(
                "mariadb", "--default-character-set=utf8mb4", "--batch", "--skip-column-names"));
    socket.ifPresent(path -> words.add("--socket=" + path));
    words.add("--execute=SET SESSION sql_mode=''; " + statement);
    return ServerCommand.of(words);
  }
}
