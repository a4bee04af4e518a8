// SPDX-License-Identifier: Apache-2.0
package io.symbolon;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.junit.jupiter.api.Assertions.assertEquals;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import io.symbolon.fixture.Knots;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Each package rests only on those above it in this list. */
class LayersTest {
  private static final List<String> LAYERS =
      List.of(
          "io.symbolon.remedy",
          "io.symbolon.failure",
          "io.symbolon.limit",
          "io.symbolon.text",
          "io.symbolon.finding",
          "io.symbolon.format",
          "io.symbolon.file",
          "io.symbolon.program",
          "io.symbolon.oid",
          "io.symbolon.der",
          "io.symbolon.pem",
          "io.symbolon.seal",
          "io.symbolon.key",
          "io.symbolon.x509",
          "io.symbolon.entry",
          "io.symbolon.store",
          "io.symbolon.chain",
          "io.symbolon.survey",
          "io.symbolon.compare",
          "io.symbolon.join",
          "io.symbolon.convert",
          "io.symbolon.issue",
          "io.symbolon.issue.rule",
          "io.symbolon.issue.byhand",
          "io.symbolon.issue.record",
          "io.symbolon.party",
          "io.symbolon.handshake",
          "io.symbolon.explain",
          "io.symbolon.tls",
          "io.symbolon.rehearse",
          "io.symbolon.probe",
          "io.symbolon.due",
          "io.symbolon");

  private static final JavaClasses CLASSES =
      new ClassFileImporter()
          .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
          .withImportOption(location -> !location.contains("test-classes"))
          .importPackages("io.symbolon");

  @Test
  void everyPackageIsInTheList() {
    List<String> packages =
        CLASSES.stream().map(c -> c.getPackageName()).distinct().sorted().toList();
    org.junit.jupiter.api.Assertions.assertEquals(LAYERS.stream().sorted().toList(), packages);
  }

  @Test
  void noPackageRestsOnALaterOne() {
    for (int i = 0; i + 1 < LAYERS.size(); i++) {
      String[] later = LAYERS.subList(i + 1, LAYERS.size()).toArray(String[]::new);
      noClasses()
          .that()
          .resideInAPackage(LAYERS.get(i))
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(later)
          .check(CLASSES);
    }
  }

  @Test
  void theCoreRestsOnTheJdkAndTheLoggingApiAlone() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideOutsideOfPackages(
            "io.symbolon..", "java..", "javax..", "org.slf4j", "org.jspecify..")
        .check(CLASSES);
  }

  @Test
  void nothingPrints() {
    noClasses()
        .should()
        .accessField(System.class, "out")
        .orShould()
        .accessField(System.class, "err")
        .check(CLASSES);
  }

  /** What is entangled, with how many classes each: none grows, and none is added. */
  @Test
  void noPackageIsAKnotThatWasNone() {
    assertEquals(
        Map.ofEntries(
            Map.entry("io.symbolon.convert", 4),
            Map.entry("io.symbolon.issue", 3),
            Map.entry("io.symbolon.issue.record", 3),
            Map.entry("io.symbolon.rehearse", 3),
            Map.entry("io.symbolon.remedy", 3),
            Map.entry("io.symbolon.seal", 4),
            Map.entry("io.symbolon.survey", 8),
            Map.entry("io.symbolon.tls", 6)),
        Knots.of(CLASSES));
  }
}
