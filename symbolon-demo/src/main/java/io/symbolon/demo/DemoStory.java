// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.cli.story.Story;

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
}
