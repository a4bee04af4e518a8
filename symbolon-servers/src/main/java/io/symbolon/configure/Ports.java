// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Input;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.TlsPlace;
import java.io.IOException;
import java.net.BindException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;

/** Whether a server could listen where it does not listen yet. */
final class Ports {
  private Ports() {}

  /**
   * Ports that are new to the server, and that another program holds.
   *
   * @param before the places of the server as they are
   * @param after the places as they would be
   */
  static List<Finding> taken(List<TlsPlace> before, List<TlsPlace> after) {
    Set<Integer> own =
        before.stream()
            .flatMap(one -> one.endpoints().stream())
            .map(Endpoint::port)
            .collect(Collectors.toSet());
    List<Finding> findings = new ArrayList<>();
    for (TlsPlace place : after) {
      for (Endpoint endpoint : place.endpoints()) {
        if (!own.contains(endpoint.port()) && isTaken(endpoint)) {
          findings.add(
              Finding.of(
                  FindingKind.PORT_TAKEN,
                  place.origin().toString(),
                  "Another program listens on " + endpoint.written() + " already.",
                  "Choose another port: "
                      + Input.PORT.mention("PORT")
                      + ", or stop that program."));
        }
      }
    }
    return findings;
  }

  private static boolean isTaken(Endpoint endpoint) {
    try (ServerSocket socket = new ServerSocket()) {
      socket.setReuseAddress(true); // what has just been closed is free
      socket.bind(
          endpoint.host().isEmpty()
              ? new InetSocketAddress(endpoint.port())
              : new InetSocketAddress(InetAddress.getByName(endpoint.host()), endpoint.port()));
      return false;
    } catch (BindException e) {
      return String.valueOf(e.getMessage()).toLowerCase(Locale.ROOT).contains("in use");
    } catch (IOException e) {
      return false; // that such an address is none of this machine is the server's to say
    }
  }
}
