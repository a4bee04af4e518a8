// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.finding.Finding;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.SubjectCheck;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.NameConstraints;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.Collectors;

/**
 * Which authority is to be founded.
 *
 * @param folder its new folder
 * @param plan what it is
 * @param under the folder of the authority that signs it; none for a root
 * @param unlock the sources of passwords to try on the key of that one
 * @param result how its key is sealed
 */
record FoundJob(
    Path folder,
    AuthorityPlan plan,
    Optional<Path> under,
    List<SecretSource> unlock,
    ResultOptions result) {
  static FoundJob of(GivenOptions given) {
    DistinguishedName subject =
        given
            .subject()
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "The authority has no name.",
                        "Give it with --subject 'CN=Lanternfish Root,O=Lanternfish Observatory'."));
    check(subject);
    Optional<Path> under = given.pathOf("under");
    boolean root = under.isEmpty();
    AuthorityPlan plan =
        new AuthorityPlan(
            subject,
            given.keyKind().orElse(KeyKind.EC_P384),
            given.lasts().orElse(Lifetime.years(root ? 10 : 5)),
            pathLength(given, root),
            constraints(given));
    return new FoundJob(
        GivenOptions.path(given.argument()), plan, under, given.unlock(), ResultOptions.of(given));
  }

  private static void check(DistinguishedName subject) {
    List<Finding> wrong = SubjectCheck.check(subject, "");
    if (subject.isEmpty() || !wrong.isEmpty()) {
      throw Usage.wrong(
          subject.isEmpty()
              ? "The name of the authority is empty."
              : wrong.stream().map(Finding::statement).collect(Collectors.joining(" ")),
          subject.isEmpty()
              ? "Give it with --subject."
              : wrong.stream().map(one -> one.remedy().advice()).collect(Collectors.joining(" ")));
    }
  }

  private static OptionalInt pathLength(GivenOptions given, boolean root) {
    Optional<String> said = given.value("path-length");
    if (said.isEmpty()) {
      return root ? OptionalInt.empty() : OptionalInt.of(0);
    }
    if (!said.get().matches("[0-9]{1,2}")) {
      throw Usage.wrong(
          "'" + Output.shown(said.get()) + "' is not a path length.", "Say a number from 0 to 99.");
    }
    return OptionalInt.of(Integer.parseInt(said.get()));
  }

  /** Where hosts are permitted by their domain alone, no address is: that is what is meant. */
  private static NameConstraints constraints(GivenOptions given) {
    List<NameConstraints.Area> permitted =
        given.values("permit").stream().map(NameConstraints.Area::parse).toList();
    List<NameConstraints.Area> excluded =
        new ArrayList<>(given.values("exclude").stream().map(NameConstraints.Area::parse).toList());
    if (!permitted.isEmpty()
        && permitted.stream().noneMatch(area -> area.kind() == GeneralName.NameForm.IP)) {
      excluded.add(NameConstraints.Area.parse("0.0.0.0/0"));
      excluded.add(NameConstraints.Area.parse("::/0"));
    }
    return new NameConstraints(permitted, excluded);
  }
}
