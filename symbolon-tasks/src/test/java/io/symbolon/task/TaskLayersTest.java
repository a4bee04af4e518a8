// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideOutsideOfPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import io.symbolon.fixture.Knots;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A job knows nothing of how it was asked for: neither the command line nor its options. */
class TaskLayersTest {
  private static final Pattern OPTION = Pattern.compile("\"[^\"]*--[a-z]");

  private static final JavaClasses CLASSES =
      new ClassFileImporter()
          .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
          .withImportOption(location -> !location.contains("test-classes"))
          .importPackages("io.symbolon.task");

  @Test
  void noJobKnowsTheCommandLine() {
    noClasses().should().dependOnClassesThat().resideInAPackage("io.symbolon.cli..").check(CLASSES);
    classes()
        .that()
        .resideInAPackage("io.symbolon.task")
        .should()
        .onlyDependOnClassesThat(
            resideOutsideOfPackage("io.symbolon.task.*..")
                .or(resideInAPackage("io.symbolon.task.words")))
        .check(CLASSES);
    slices().matching("io.symbolon.task.(*)..").should().beFreeOfCycles().check(CLASSES);
  }

  /** Options of other programs that are started, and the page that an authority shows. */
  private static final Set<String> OF_OTHERS =
      Set.of(
          "ProgramStart.java",
          "PublicMode.java",
          "Wildfly.java",
          "ToolEnvironment.java",
          "MariadbClient.java",
          "MariadbAccounts.java",
          "AuthorityPage.java");

  @ParameterizedTest
  @ValueSource(strings = {"core", "mail", "rules", "servers", "acme", "tasks"})
  void noOptionOfTheCommandLineIsInAText(String module) throws IOException {
    try (Stream<Path> files = Files.walk(Path.of("../symbolon-" + module, "src/main/java"))) {
      List<Path> sources = files.filter(file -> file.toString().endsWith(".java")).toList();
      assertTrue(sources.size() > 2, sources.toString());
      List<String> named =
          sources.stream()
              .filter(file -> !OF_OTHERS.contains(String.valueOf(file.getFileName())))
              .flatMap(TaskLayersTest::lines)
              .filter(line -> OPTION.matcher(line).find())
              .toList();
      assertEquals(List.of(), named);
    }
  }

  private static Stream<String> lines(Path file) {
    try {
      return Files.readAllLines(file).stream();
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  /** What is entangled, with how many classes each: none grows, and none is added. */
  @Test
  void noPackageIsAKnotThatWasNone() {
    assertEquals(
        Map.ofEntries(
            Map.entry("io.symbolon.task.authority", 3),
            Map.entry("io.symbolon.task.order", 4),
            Map.entry("io.symbolon.task.renew", 3),
            Map.entry("io.symbolon.task.request", 4)),
        Knots.of(CLASSES));
  }
}
