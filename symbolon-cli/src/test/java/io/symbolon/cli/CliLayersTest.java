// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static com.tngtech.archunit.core.domain.JavaClass.Predicates.belongToAnyOf;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAnyPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.junit.jupiter.api.Assertions.assertEquals;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import io.symbolon.configure.ClientTls;
import io.symbolon.configure.ServerTls;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.InPlaceCompletion;
import io.symbolon.convert.StoreEdit;
import io.symbolon.fixture.Knots;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.join.Joiner;
import io.symbolon.survey.Surveyor;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The packages of the command line rest on each other as ARCHITECTURE.md says. */
class CliLayersTest {
  private static final String TOP = "io.symbolon.cli";

  /** What every command rests on; each rests only on those before it. */
  private static final List<String> SHARED =
      List.of(TOP + ".story", TOP + ".session", TOP + ".output", TOP + ".document", TOP + ".frame");

  /** The commands, which know nothing of one another. */
  private static final List<String> COMMANDS =
      List.of(
          TOP + ".survey",
          TOP + ".compare",
          TOP + ".configure",
          TOP + ".files",
          TOP + ".order",
          TOP + ".due",
          TOP + ".request",
          TOP + ".authority",
          TOP + ".tls");

  private static final JavaClasses CLASSES =
      new ClassFileImporter()
          .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
          .withImportOption(location -> !location.contains("test-classes"))
          .importPackages(TOP);

  @Test
  void everyPackageHasItsPlace() {
    List<String> known = new ArrayList<>(SHARED);
    known.addAll(COMMANDS);
    known.add(TOP);
    assertEquals(
        known.stream().sorted().toList(),
        CLASSES.stream().map(c -> c.getPackageName()).distinct().sorted().toList());
  }

  @Test
  void whatIsSharedRestsOnWhatStandsBeforeIt() {
    for (int i = 0; i < SHARED.size(); i++) {
      List<String> later = new ArrayList<>(SHARED.subList(i + 1, SHARED.size()));
      later.addAll(COMMANDS);
      later.add(TOP);
      check(SHARED.get(i), later);
    }
  }

  @Test
  void noCommandKnowsAnotherOrTheTop() {
    for (String command : COMMANDS) {
      List<String> others = new ArrayList<>(COMMANDS);
      others.remove(command);
      others.add(TOP);
      check(command, others);
    }
  }

  /**
   * A command translates: options into a job, a report into text, JSON and an exit code. What works
   * on files, keys and servers is below.
   */
  @Test
  void noCommandDoesTheWorkOfATask() {
    noClasses()
        .that()
        .doNotHaveSimpleName("WarmUp") // runs what most commands load, for the class archive
        .should()
        .dependOnClassesThat(
            resideInAnyPackage(
                    "io.symbolon.acme.records..",
                    "io.symbolon.acme.wire..",
                    "io.symbolon.acme.beside..",
                    "io.symbolon.pem..",
                    "io.symbolon.store..")
                .or(belongToAnyOf(Surveyor.class, Joiner.class, Conversion.class, StoreEdit.class))
                .or(belongToAnyOf(SigningAuthority.class, ServerTls.class, ClientTls.class))
                .or(belongToAnyOf(InPlaceCompletion.class, SecureRandom.class, KeyPair.class)))
        .check(CLASSES);
  }

  private static void check(String from, List<String> forbidden) {
    noClasses()
        .that()
        .resideInAPackage(from)
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(forbidden.toArray(String[]::new))
        .check(CLASSES);
  }

  /** What is entangled, with how many classes each: none grows, and none is added. */
  @Test
  void noPackageIsAKnotThatWasNone() {
    assertEquals(
        Map.ofEntries(
            Map.entry("io.symbolon.cli", 4),
            Map.entry("io.symbolon.cli.authority", 9),
            Map.entry("io.symbolon.cli.frame", 9)),
        Knots.of(CLASSES));
  }
}
