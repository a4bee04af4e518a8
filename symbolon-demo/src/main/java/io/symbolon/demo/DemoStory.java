// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.cli.story.Story;
import java.nio.file.Path;

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
    DemoServer server =
        DemoServer.start(folder, keystore, folder.resolve("ingest.pass"), DemoPile.HOST, port);
    return new Served("127.0.0.1:" + server.port(), DemoPile.HOST, keystore, server::close);
  }
}
