// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.SafeRead;
import io.symbolon.file.StoredTrust;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.ServerRoles;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** A server of which a description says how it wants its files and settings. */
public final class DescribedServer implements Server {
  private final Description description;

  DescribedServer(Description description) {
    this.description = description;
  }

  /**
   * {@return the server that a file describes}
   *
   * @param file the description, in UTF-8
   * @throws SymbolonException if it can't be read, somebody else could have written it (it names
   *     programs), or anything in it is wrong: all of it is told, with the lines
   */
  public static DescribedServer of(Path file) {
    try {
      StoredTrust.check(file, "The description");
      return of(file.toString(), SafeRead.text(file, Limits.RULES_BYTES));
    } catch (IOException e) {
      throw new SymbolonException(
          e instanceof SafeRead.TooLarge ? Reason.LIMIT_PASSED : Reason.UNREADABLE,
          "The description in " + VisibleText.of(file.toString()) + " can't be read.",
          SafeRead.why(file, e),
          "Check the name and the rights of the file.",
          e);
    }
  }

  /**
   * {@return the server that a text describes}
   *
   * @param name what the text is called, for messages
   * @param text the description
   * @throws SymbolonException if anything in it is wrong
   */
  public static DescribedServer of(String name, String text) {
    return new DescribedServer(DescriptionReader.read(name, text));
  }

  @Override
  public String name() {
    return description.name();
  }

  @Override
  public String title() {
    return description.title();
  }

  @Override
  public Optional<String> says() {
    return description.says();
  }

  @Override
  public boolean hasRoles() {
    return ServerRoles.of(name()).isPresent();
  }

  @Override
  public Set<Mode> modes() {
    return description.modes();
  }

  @Override
  public List<String> forms() {
    return description.forms();
  }

  @Override
  public boolean isDescribed() {
    return true;
  }

  @Override
  public List<Installation> find(Machine machine) {
    List<Installation> found = new ArrayList<>();
    for (String home : description.where().homes()) {
      for (Path folder : machine.matching(home)) {
        Path main = main(machine, folder);
        boolean isMade =
            description.settings().get(0).made()
                && Files.isDirectory(folder)
                && machine.first(programs()).isPresent();
        if (Files.isRegularFile(main) || isMade) {
          found.add(installation(machine, folder, main));
        }
      }
    }
    return found;
  }

  private Path main(Machine machine, Path folder) {
    String file = description.settings().get(0).file().toString();
    return machine.below(folder, file).toAbsolutePath().normalize();
  }

  private Installation installation(Machine machine, Path folder, Path main) {
    return new Installation(
        name(), folder.toAbsolutePath().normalize(), main, machine.first(programs()));
  }

  private String[] programs() {
    return description.where().programs().toArray(String[]::new);
  }

  @Override
  public Installation at(Machine machine, Path home) {
    Path absolute = home.toAbsolutePath().normalize();
    if (Files.isDirectory(absolute)) {
      Path main = main(machine, absolute);
      if (Files.isRegularFile(main) || description.settings().get(0).made()) {
        return installation(machine, absolute, main);
      }
      throw notFound("There is no " + VisibleText.of(main.toString()) + ".");
    }
    Path below = Path.of(description.settings().get(0).file().toString());
    if (Files.isRegularFile(absolute) && absolute.endsWith(below.toString())) {
      Path folder = absolute;
      for (int i = 0; i < below.getNameCount() && folder.getParent() != null; i++) {
        folder = folder.getParent();
      }
      return installation(machine, folder, absolute);
    }
    throw notFound(
        VisibleText.of(absolute.toString())
            + " is neither a folder nor a file "
            + VisibleText.of(below.toString())
            + ".");
  }

  private SymbolonException notFound(String seen) {
    return new SymbolonException(
        Reason.NOT_FOUND,
        "The settings of " + title() + " were not found.",
        seen,
        "Name the folder of its settings: " + Input.HOME.mention("PATH") + ".");
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    Description form = description.in(Optional.empty(), machine, installation);
    return new DescribedReading(form, machine, installation).settings();
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    Description form = description.in(wish.form(), machine, installation);
    return new Proposing(form, machine, installation, wish).proposal();
  }

  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return new Commanding(description, machine, installation).check();
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    return new Commanding(description, machine, installation).reload(settings);
  }
}
