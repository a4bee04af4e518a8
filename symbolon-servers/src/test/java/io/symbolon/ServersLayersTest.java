// SPDX-License-Identifier: Apache-2.0
package io.symbolon;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static org.junit.jupiter.api.Assertions.assertEquals;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import io.symbolon.fixture.Knots;
import io.symbolon.server.ClientKinds;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** Documents rest on nothing, servers on documents, and nothing outside knows a server. */
class ServersLayersTest {
  private static final JavaClasses CLASSES =
      new ClassFileImporter()
          .withImportOption(ImportOption.Predefined.DO_NOT_INCLUDE_TESTS)
          .withImportOption(location -> location.contains("symbolon-servers"))
          .withImportOption(location -> !location.contains("test-classes"))
          .importPackages("io.symbolon");

  @Test
  void documentsKnowNoServersAndServersNotHowTheyAreChanged() {
    noClasses()
        .that()
        .resideInAPackage("io.symbolon.lossless")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "io.symbolon.server..", "io.symbolon.configure..", "io.symbolon.describe..")
        .check(CLASSES);
    noClasses()
        .that()
        .resideInAPackage("io.symbolon.server..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("io.symbolon.configure..", "io.symbolon.describe..")
        .check(CLASSES);
    noClasses()
        .that()
        .resideInAPackage("io.symbolon.describe")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("io.symbolon.configure..")
        .check(CLASSES);
    noClasses()
        .that()
        .resideInAPackage("io.symbolon.configure")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("io.symbolon.describe..")
        .check(CLASSES);
  }

  /** The rooms of what a server is, each resting on those before it. */
  @Test
  void theRoomsOfAServerRestOnEachOther() {
    List<String> rooms =
        List.of(
            "io.symbolon.server.machine",
            "io.symbolon.server.text",
            "io.symbolon.server.place",
            "io.symbolon.server.wish",
            "io.symbolon.server.files",
            "io.symbolon.server");
    for (int i = 0; i < rooms.size() - 1; i++) {
      noClasses()
          .that()
          .resideInAPackage(rooms.get(i))
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(rooms.subList(i + 1, rooms.size()).toArray(String[]::new))
          .check(CLASSES);
    }
  }

  @Test
  void everyServerIsAPackageThatNobodyElseKnows() {
    TreeSet<String> packages = new TreeSet<>();
    List<Server> programmed =
        Servers.all().stream().filter(server -> !server.isDescribed()).toList();
    for (Server server : programmed) {
      String own = server.getClass().getPackageName();
      packages.add(own);
      noClasses()
          .that()
          .resideOutsideOfPackage(own)
          .should()
          .dependOnClassesThat()
          .resideInAPackage(own)
          .check(CLASSES);
      // What opens connections with the same settings may be beside it.
      Set<String> services = new TreeSet<>(Set.of(server.getClass().getSimpleName()));
      ClientKinds.all().stream()
          .filter(client -> client.getClass().getPackageName().equals(own))
          .forEach(client -> services.add(client.getClass().getSimpleName()));
      Set<String> open = new TreeSet<>();
      CLASSES.stream()
          .filter(one -> one.getPackageName().equals(own))
          .filter(one -> one.getModifiers().toString().contains("PUBLIC"))
          .filter(one -> !one.getSimpleName().equals("package-info"))
          .forEach(one -> open.add(one.getSimpleName()));
      assertEquals(services, open);
    }
    assertEquals(programmed.size(), packages.size());
  }

  /** What is entangled, with how many classes each: none grows, and none is added. */
  @Test
  void noPackageIsAKnotThatWasNone() {
    assertEquals(
        Map.ofEntries(
            Map.entry("io.symbolon.describe", 5),
            Map.entry("io.symbolon.server.artemis", 3),
            Map.entry("io.symbolon.server.httpd", 3),
            Map.entry("io.symbolon.server.openldap", 3),
            Map.entry("io.symbolon.server.wildfly", 3)),
        Knots.of(CLASSES));
  }
}
