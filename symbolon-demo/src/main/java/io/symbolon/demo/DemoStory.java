// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.Material;
import io.symbolon.cli.story.Story;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.seal.Secret;
import io.symbolon.text.VisibleText;
import io.symbolon.tls.TlsSetup;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.net.ssl.SSLContext;

/** The Lanternfish Observatory's story. */
public final class DemoStory implements Story {
  @Override
  public boolean tell(Telling telling) {
    return new Demo(
            telling.folder(),
            telling.out(),
            telling.clock(),
            new Demo.Style(telling.heading(), telling.command(), telling.faint(), telling.typed()),
            arguments -> telling.commandLine().applyAsInt(arguments))
        .run();
  }

  @Override
  public Served serve(Path folder, int port) {
    Path keystore = folder.resolve("ingest.p12");
    Path password = folder.resolve("ingest.pass");
    // The stand-in first: whoever is answered by the page finds it there.
    DemoDatabase database = database(keystore, password, port == 0 ? 0 : port + 1);
    try {
      DemoServer server = DemoServer.start(folder, keystore, password, DemoPile.HOST, port);
      return new Served(
          "127.0.0.1:" + server.port(),
          "127.0.0.1:" + database.port(),
          DemoPile.HOST,
          keystore,
          () -> {
            database.close();
            server.close();
          });
    } catch (SymbolonException e) {
      database.close();
      throw e;
    }
  }

  private static DemoDatabase database(Path keystore, Path passwordFile, int port) {
    SSLContext context = context(keystore, passwordFile);
    try {
      return DemoDatabase.start(context, port);
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The stand-in for a database did not start.",
          "The system says: " + e.getMessage() + ".",
          "Check that nobody else listens on the port above.",
          e);
    }
  }

  private static SSLContext context(Path keystore, Path passwordFile) {
    try (Secret password =
        Secret.of(Files.readString(passwordFile).strip().toCharArray(), "file=" + passwordFile)) {
      Material material = Material.reader().withPasswords(password).read(keystore);
      return TlsSetup.server(material.credential()).context();
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "Nothing is served.",
          "The password in " + VisibleText.of(passwordFile.toString()) + " can't be read.",
          "Name the folder of an earlier demo, or run the demo first: symbolon demo",
          e);
    }
  }
}
