// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.lossless.LineDialect;
import io.symbolon.probe.StartWith;
import io.symbolon.server.Installation;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.text.Placeholders;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * How a server wants its files and settings, as a description says it; docs/describing-a-server.md
 * tells what each part means.
 */
record Description(
    String name,
    String title,
    Optional<String> says,
    Where where,
    String folder,
    Map<String, WantedFile> files,
    List<SettingsPart> settings,
    Optional<Sections> places,
    Map<String, Command> turning,
    ProtocolWords protocols,
    Optional<StartWith> startWith,
    Optional<Integer> port,
    Commands commands,
    String form,
    List<OtherForm> otherForms,
    List<String> harmless) {

  /** Stands for the account that the home belongs to. */
  static final String HOME_OWNER = "{home-owner}";

  /** Names of accounts. */
  static final Pattern ACCOUNT = Pattern.compile("[A-Za-z_][A-Za-z0-9_.-]{0,63}\\$?");

  /**
   * The same server with its files in another form, such as PEM instead of stores.
   *
   * @param set the values in the main settings file by which it is seen
   */
  record OtherForm(Map<List<String>, List<String>> set, Description description) {}

  /**
   * Where the server is, and how it is seen that it runs.
   *
   * @param accountSetting the setting of the first file that names another account
   */
  record Where(
      List<String> homes,
      List<String> within,
      List<String> programs,
      Optional<String> account,
      Optional<String> accountSetting,
      Optional<String> process,
      List<String> processWords,
      Optional<String> script) {}

  /** A file that the server is given. */
  record WantedFile(
      String name,
      List<Holds> holds,
      Format as,
      Template path,
      boolean sealed,
      boolean otherKeyPassword,
      KeyForm form,
      Optional<Template> alias,
      Optional<Boolean> aliasInUpperCase,
      boolean keepsOthers,
      boolean byRoot,
      Optional<String> owner,
      Optional<String> group,
      boolean isPrivate) {
    boolean isOfServer() {
      return holds.stream().anyMatch(Holds::isOfServer);
    }

    /** Whether it is wanted where clients are asked, and there are lists. */
    boolean isWanted(boolean clients, boolean lists) {
      return isOfServer() || (clients && (holds.contains(Holds.TRUST) || lists));
    }

    boolean isSecret() {
      return isPrivate || sealed || holds.contains(Holds.KEY);
    }
  }

  /**
   * The language of a settings file.
   *
   * @param options the key whose line has options behind its first word
   */
  record Language(String word, Optional<LineDialect> lines, Optional<String> options) {}

  /** One settings file with what is to be in it. */
  record SettingsPart(
      Template file,
      boolean made,
      Language language,
      List<Include> includes,
      Optional<String> fresh,
      boolean firstWins,
      boolean plainNames,
      Map<List<String>, String> usual,
      List<Line> lines,
      List<List<String>> absent,
      List<List<String>> instead,
      Optional<Placeholders.Syntax> variables,
      boolean pathsFromHome,
      List<ListItem> lists) {}

  /** A setting that takes other files in. */
  record Include(String key, Optional<String> matching) {}

  /** A setting: its key, and its value with other spellings of it. */
  record Line(When when, List<String> key, List<Template> values, boolean bare) {
    Template written() {
      return values.get(0);
    }

    boolean isConstant() {
      return written().isConstant();
    }
  }

  /**
   * An item that a list of words must have; with the place's port in it, it tells that TLS is on.
   */
  record ListItem(List<String> key, Template item, String separator) {
    boolean tells() {
      return item.has("port");
    }

    /** The words of a list. */
    List<String> words(String list) {
      return Arrays.stream(list.split(Pattern.quote(separator), -1))
          .map(String::strip)
          .filter(word -> !word.isEmpty())
          .toList();
    }

    /** The word of a list that is this item, whatever its address and port. */
    Optional<String> in(List<String> words) {
      return words.stream().filter(word -> values(word).isPresent()).findFirst();
    }

    /** What stands in the places of the item. */
    Optional<Map<String, String>> values(String word) {
      return item.values(word)
          .filter(
              found -> !found.containsKey("port") || found.get("port").matches("[1-9]\\d{0,4}"));
    }
  }

  /**
   * Places that are sections of the main settings file.
   *
   * @param names how a section is named; the first is written
   */
  record Sections(List<Template> names) {
    Template written() {
      return names.get(0);
    }

    /** What stands in the name of a section; an address at its end may be missing. */
    Optional<Map<String, String>> values(String section) {
      return names.stream().flatMap(name -> values(name, section).stream()).findFirst();
    }

    private static Optional<Map<String, String>> values(Template name, String section) {
      Optional<Map<String, String>> values = name.values(section);
      String text = name.toString();
      if (values.isEmpty() && text.endsWith(" {address}")) {
        values =
            Template.of(text.substring(0, text.length() - " {address}".length())).values(section);
      }
      return values.filter(
          found -> !found.containsKey("port") || found.get("port").matches("\\d{1,5}"));
    }
  }

  /** The words for protocol versions. */
  record ProtocolWords(Map<String, String> words, String joinedBy) {}

  /** A program of the server's, and what success looks like. */
  record Command(
      List<Template> run,
      boolean asAccount,
      Set<Integer> good,
      Optional<String> right,
      Optional<String> wrong,
      int seconds) {}

  /**
   * How it takes something new.
   *
   * @param commands the ways, the one that loses least first; one whose words are not known here is
   *     passed over
   */
  record Taking(
      List<Command> commands, boolean interrupts, boolean byItself, Optional<String> says) {}

  /** What the server's own programs do. */
  record Commands(Optional<Command> check, Taking files, Taking settings) {}

  /**
   * The account whose server it is: as it is said, or the one that controls the home. What the
   * settings say counts for who reads files, never for whom a program is run as.
   */
  Optional<String> account(Machine machine, Installation installation) {
    return where.account().equals(Optional.of(HOME_OWNER))
        ? machine.accountOf(installation.home())
        : where.account();
  }

  /** The forms that its files can have, the usual one first; empty where there is one alone. */
  List<String> forms() {
    return otherForms.isEmpty()
        ? List.of()
        : Stream.concat(
                Stream.of(form), otherForms.stream().map(other -> other.description().form()))
            .toList();
  }

  /** The description of the form that is wanted, or else of the one that the settings have. */
  Description in(Optional<String> wanted, Machine machine, Installation installation) {
    if (wanted.isPresent()) {
      return otherForms.stream()
          .map(OtherForm::description)
          .filter(one -> one.form().equals(wanted.get()))
          .findFirst()
          .orElse(this);
    }
    return otherForms.stream()
        .filter(
            other ->
                new DescribedReading(other.description(), machine, installation).has(other.set()))
        .map(OtherForm::description)
        .findFirst()
        .orElse(this);
  }

  /** The modes that it can be put into. */
  Set<Mode> modes() {
    Set<Mode> modes = EnumSet.of(Mode.ONE_WAY);
    for (SettingsPart part : settings) {
      for (Line line : part.lines()) {
        if (line.when() == When.MUTUAL || line.when() == When.ASKS_CLIENTS) {
          modes.add(Mode.MUTUAL);
        }
        if (line.when() == When.OPTIONAL) {
          modes.add(Mode.OPTIONAL);
        }
      }
    }
    return modes;
  }
}
