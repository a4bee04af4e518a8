// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.junit.jupiter.api.Assertions.assertEquals;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import io.symbolon.fixture.Knots;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Who orders and who answers know nothing of each other; both rest on what goes over the wire. */
class AcmeLayersTest {
  private static final String TOP = "io.symbolon.acme";

  private static final JavaClasses CLASSES =
      new ClassFileImporter()
          .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
          .withImportOption(location -> !location.contains("test-classes"))
          .importPackages(TOP);

  @Test
  void everyPackageRestsOnThoseBeforeIt() {
    List<List<String>> forbidden =
        List.of(
            List.of("protocol", "", "wire", "proof", "beside", "records", "answer", "folder"),
            List.of("wire", "", "proof", "beside", "records", "answer", "folder"),
            List.of("proof", "", "beside", "records", "answer", "folder"),
            List.of("", "beside", "records", "answer", "folder"),
            List.of("beside", "", "proof", "records", "answer", "folder"),
            List.of("records", "", "wire", "proof", "answer", "folder"),
            List.of("answer", "", "proof", "folder"),
            List.of("folder", "beside", "records", "answer"));
    for (List<String> one : forbidden) {
      noClasses()
          .that()
          .resideInAPackage(name(one.get(0)))
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              one.subList(1, one.size()).stream().map(AcmeLayersTest::name).toArray(String[]::new))
          .check(CLASSES);
    }
    assertEquals(
        forbidden.stream().map(one -> name(one.get(0))).sorted().toList(),
        CLASSES.stream().map(c -> c.getPackageName()).distinct().sorted().toList());
  }

  private static String name(String part) {
    return part.isEmpty() ? TOP : TOP + "." + part;
  }

  /** What is entangled, with how many classes each: none grows, and none is added. */
  @Test
  void noPackageIsAKnotThatWasNone() {
    assertEquals(Map.of(), Knots.of(CLASSES));
  }
}
