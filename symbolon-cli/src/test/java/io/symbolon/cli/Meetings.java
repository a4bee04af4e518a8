// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.chain.Credential;
import io.symbolon.cli.ServerTalk.Meeting;
import java.io.IOException;
import java.net.Socket;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;

/** What clients meet at a server, at the addresses and by the names that are told of it. */
final class Meetings {
  private final MadeServer server;
  private final List<Integer> ports;

  /** The ports are those that the server may open. */
  Meetings(MadeServer server, List<Integer> ports) {
    this.server = server;
    this.ports = ports;
  }

  /** What a client meets at a port under a name. */
  record Asked(String address, int port, String name) {}

  /**
   * What is met there.
   *
   * @param shown leaf by version and kind of key
   * @param served by the client's word; empty for none
   */
  record Met(Map<String, String> shown, Map<String, Boolean> served) {
    boolean speaksTls() {
      return shown.values().stream().anyMatch(leaf -> !leaf.isEmpty());
    }

    boolean isServed(String client) {
      return served.getOrDefault(client, false);
    }

    TreeSet<String> leaves() {
      TreeSet<String> leaves = new TreeSet<>(shown.values());
      leaves.remove("");
      return leaves;
    }

    boolean offers(String version) {
      return shown.entrySet().stream()
          .anyMatch(one -> one.getKey().startsWith(version) && !one.getValue().isEmpty());
    }
  }

  static boolean listens(int port) {
    return listens("127.0.0.1", port);
  }

  private static boolean listens(String address, int port) {
    try (Socket socket = new Socket(address, port)) {
      return socket.isConnected();
    } catch (IOException e) {
      return false;
    }
  }

  /** Every told address under every told name, and every port without a name. */
  Map<Asked, Met> meetAll(JsonNode read) {
    Map<Asked, Met> met = new LinkedHashMap<>();
    for (int port : ports) {
      if (listens(port)) {
        Asked asked = new Asked("127.0.0.1", port, "");
        met.put(asked, meet(asked));
      }
    }
    for (JsonNode place : read.get("places")) {
      for (JsonNode address : place.get("addresses")) {
        int port = address.get("port").asInt();
        if (!listens(port)) {
          continue;
        }
        for (String name : names(place)) {
          met.computeIfAbsent(new Asked(address(address), port, name), this::meet);
        }
      }
    }
    return met;
  }

  /** Names by which a client may ask for the place; none is an empty one. */
  List<String> names(JsonNode place) {
    List<String> names = new ArrayList<>();
    for (JsonNode host : place.get("hosts")) {
      String name = host.asText();
      if (name.startsWith("*.")) {
        names.add("kelp" + name.substring(1));
      } else if (name.startsWith(".")) {
        names.add("kelp" + name);
      } else if (name.matches("[A-Za-z0-9.-]+\\.[a-zA-Z]+")) {
        names.add(name);
      }
    }
    if (place.get("hosts").isEmpty()
        && server.namesInCertificates()) { // where certificates say for which names they are
      for (JsonNode chain : place.get("shows")) {
        String name = chain.at("/0/hosts/0").asText();
        if (!names.contains(name)) {
          names.add(name);
        }
      }
    }
    return names.isEmpty() ? List.of("") : names;
  }

  /**
   * Where this address is met: what listens everywhere is not met where somebody listens there
   * alone.
   */
  static String address(JsonNode address) {
    String host = address.get("host").asText();
    boolean own = host.equals("127.0.0.1") || host.equals("localhost");
    return own || !listens("127.0.0.2", address.get("port").asInt()) ? "127.0.0.1" : "127.0.0.2";
  }

  private Meeting ask(Asked asked, String version, String suites, Optional<Credential> client) {
    return server.talk().meet(asked.address(), asked.port(), asked.name(), version, suites, client);
  }

  private Met meet(Asked asked) {
    Map<String, String> shown = new TreeMap<>();
    long asking = System.nanoTime();
    shown.put("TLSv1.3", ask(asked, "TLSv1.3", "TLS_", Optional.empty()).shown());
    if (System.nanoTime() - asking > TimeUnit.SECONDS.toNanos(9)) {
      return new Met(shown, Map.of("", false)); // it waits for words in clear text
    }
    for (String kind : List.of("_RSA_", "_ECDSA_")) {
      shown.put("TLSv1.2" + kind, ask(asked, "TLSv1.2", kind, Optional.empty()).shown());
    }
    Map<String, Boolean> served = new TreeMap<>();
    String version = shown.get("TLSv1.3").isEmpty() ? "TLSv1.2" : "TLSv1.3";
    served.put("", ask(asked, version, "TLS_", Optional.empty()).served());
    MadeFiles.CLIENTS.forEach(
        (word, client) ->
            served.put(word, ask(asked, version, "TLS_", Optional.of(client)).served()));
    return new Met(shown, served);
  }

  /** Whether this machine's own address, the only one that is open, is another place's. */
  static boolean isHidden(JsonNode read, JsonNode address) {
    return isEverywhere(address)
        && address(address).equals("127.0.0.1")
        && isShadowed(read, address.get("port").asInt());
  }

  private static boolean isEverywhere(JsonNode address) {
    return !List.of("127.0.0.1", "localhost").contains(address.get("host").asText());
  }

  /**
   * Whether a place is there for this machine's own address alone, and nobody listens on others.
   */
  private static boolean isShadowed(JsonNode read, int port) {
    return addresses(read)
        .anyMatch(address -> address.get("port").asInt() == port && !isEverywhere(address));
  }

  static Stream<JsonNode> each(JsonNode list) {
    return StreamSupport.stream(list.spliterator(), false);
  }

  private static Stream<JsonNode> addresses(JsonNode read) {
    return each(read.get("places")).flatMap(place -> each(place.get("addresses")));
  }

  static boolean hasOthers(JsonNode read, JsonNode address) {
    return hasOthers(read, address(address), address.get("port").asInt());
  }

  static boolean hasOthers(JsonNode read, String where, int port) {
    long there =
        each(read.get("places"))
            .filter(
                place ->
                    each(place.get("addresses"))
                        .anyMatch(
                            address ->
                                address.get("port").asInt() == port
                                    && address(address).equals(where)))
            .count();
    return there > 1;
  }
}
