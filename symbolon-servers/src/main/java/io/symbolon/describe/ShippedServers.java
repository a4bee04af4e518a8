// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.server.MoreServers;
import io.symbolon.server.Server;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;

/** The descriptions that come with Symbolon, each read when it is asked. */
public final class ShippedServers implements MoreServers {
  private static final String LISTED = "listed.txt";

  /** Made by the registry of servers. */
  public ShippedServers() {}

  @Override
  public List<Server> servers() {
    return text(LISTED)
        .lines()
        .map(String::strip)
        .filter(line -> !line.isEmpty())
        .<Server>map(ShippedServer::new)
        .toList();
  }

  /**
   * {@return the description of a server that comes with Symbolon, as it is written}
   *
   * @param name the name of the server
   * @throws IllegalArgumentException if there is none
   */
  public static String description(String name) {
    return text(name + ".yaml");
  }

  private static String text(String file) {
    try (InputStream in = ShippedServers.class.getResourceAsStream("servers/" + file)) {
      if (in == null) {
        throw new IllegalArgumentException("there is no " + file);
      }
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
