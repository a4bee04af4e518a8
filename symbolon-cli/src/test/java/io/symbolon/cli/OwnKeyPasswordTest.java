// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.fixture.PlatformStore;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A key whose password is another than its keystore's: what is said of servers, and what they do.
 */
class OwnKeyPasswordTest {
  @TempDir Path temp;

  private boolean isServed(int port) {
    return Run.of(
                "probe",
                "127.0.0.1:" + port,
                "--host",
                HOST,
                "--trust",
                temp.resolve("root.pem"),
                "--one-handshake")
            .code()
        == 0;
  }

  private boolean tomcatServes(Path keystore, boolean told) {
    try (RealServer server =
        TomcatServer.start(
            temp,
            host -> host.setCertificateVerification("none"),
            certificate -> {
              certificate.setCertificateKeystoreFile(keystore.toString());
              certificate.setCertificateKeystoreType("JKS");
              certificate.setCertificateKeystorePassword("store-of-17");
              if (told) {
                certificate.setCertificateKeyPassword("key-of-17");
              }
            })) {
      return server.port() > 0 && isServed(server.port());
    } catch (IOException e) {
      return false;
    }
  }

  private boolean jettyServes(Path keystore, boolean told) {
    try (RealServer server =
        JettyServer.start(
            tls -> {
              tls.setKeyStorePath(keystore.toString());
              tls.setKeyStoreType("JKS");
              tls.setKeyStorePassword("store-of-17");
              if (told) {
                tls.setKeyManagerPassword("key-of-17");
              }
            })) {
      return isServed(server.port());
    } catch (IOException e) {
      return false;
    }
  }

  @Test
  void serversOnJavaWantASettingForItAndThatIsSaid() {
    Path keystore =
        file(temp, "two.jks", PlatformStore.of("JKS", "store-of-17", "key-of-17", root(), INGEST));
    file(temp, "root.pem", pem(root()));
    Run run =
        Run.of(
            "rehearse",
            "--server",
            keystore,
            "--unlock",
            "file=" + file(temp, "one", "store-of-17\n"),
            "--unlock",
            "file=" + file(temp, "other", "key-of-17\n"),
            "--client-trust",
            temp.resolve("root.pem"),
            "--host",
            HOST,
            "--json");
    Map<String, String> settings = new TreeMap<>();
    for (JsonNode other : run.json().at("/pairs/0/others")) {
      assertFalse(other.get("accepts").asBoolean());
      settings.put(other.get("server").asText(), other.get("setting").asText());
    }
    assertEquals(
        Map.of("tomcat", "certificateKeyPassword", "jetty", "jetty.sslContext.keyManagerPassword"),
        settings,
        run.out());
    assertFalse(tomcatServes(keystore, false));
    assertTrue(tomcatServes(keystore, true));
    assertFalse(jettyServes(keystore, false));
    assertTrue(jettyServes(keystore, true));
  }
}
