// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.lossless.KeyedDotted;
import io.symbolon.lossless.PropertiesText;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.ClientWish;
import io.symbolon.server.Machine;
import io.symbolon.survey.Surveyor;
import java.util.List;
import java.util.Optional;

/** Clients of Kafka: producers, consumers and its own programs, by a file of properties. */
public final class KafkaClient implements ClientKind {
  /** Made by the registry of clients. */
  public KafkaClient() {}

  @Override
  public String name() {
    return "kafka-client";
  }

  @Override
  public String title() {
    return "A client of Kafka";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    ClientFiles files =
        new ClientFiles(
            machine,
            wish,
            ClientFiles.file(machine, wish, "client.properties", "client.properties"));
    List<String> trust = files.trustStore();
    files.set(List.of("security.protocol"), "SSL");
    files.set(List.of("ssl.truststore.location"), trust.get(0));
    files.set(List.of("ssl.truststore.password"), trust.get(1));
    files.set(List.of("ssl.truststore.type"), "PKCS12");
    files
        .keyStore()
        .ifPresent(
            own -> {
              files.set(List.of("ssl.keystore.location"), own.get(0));
              files.set(List.of("ssl.keystore.password"), own.get(1));
              files.set(List.of("ssl.key.password"), own.get(1));
              files.set(List.of("ssl.keystore.type"), "PKCS12");
            });
    return files.proposal(
        source -> KeyedDotted.of(PropertiesText.read(source)),
        List.of(
            new ClientProposal.Use(
                "with Kafka's own programs, as their file of properties", files.file().toString())),
        Optional.empty());
  }
}
