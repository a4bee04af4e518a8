// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.lossless.KeyedDotted;
import io.symbolon.lossless.KeyedText;
import io.symbolon.lossless.PropertiesText;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import java.util.List;
import java.util.Optional;

/** Clients of Kafka: producers, consumers and its own programs, by a file of properties. */
public final class KafkaClient implements ClientKind {
  private static final String PEM = "pem";
  private static final List<List<String>> TYPES =
      List.of(List.of("ssl.truststore.type"), List.of("ssl.keystore.type"));

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
  public List<String> forms() {
    return List.of("pkcs12", PEM);
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    ClientFiles files =
        new ClientFiles(
            machine,
            wish,
            ClientFiles.file(machine, wish, "client.properties", "client.properties"));
    files.set(List.of("security.protocol"), "SSL");
    boolean pem =
        wish.form().map(PEM::equals).orElseGet(() -> files.says(KafkaClient::language, TYPES, PEM));
    if (pem) {
      pem(files);
    } else {
      stores(files);
    }
    return files.proposal(
        KafkaClient::language,
        List.of(
            new ClientProposal.Use(
                "with Kafka's own programs, as their file of properties", files.file().toString())),
        Optional.empty());
  }

  private static KeyedText language(SourceText source) {
    return KeyedDotted.of(PropertiesText.read(source));
  }

  private static void stores(ClientFiles files) {
    List<String> trust = files.trustStore();
    files.set(List.of("ssl.truststore.location"), trust.get(0));
    files.set(List.of("ssl.truststore.password"), trust.get(1));
    files.set(TYPES.get(0), "PKCS12");
    files
        .keyStore()
        .ifPresent(
            own -> {
              files.set(List.of("ssl.keystore.location"), own.get(0));
              files.set(List.of("ssl.keystore.password"), own.get(1));
              files.set(List.of("ssl.key.password"), own.get(1));
              files.set(TYPES.get(1), "PKCS12");
            });
  }

  /** Kafka refuses passwords of stores where there are none. */
  private static void pem(ClientFiles files) {
    files.set(List.of("ssl.truststore.location"), files.trust());
    files.set(TYPES.get(0), "PEM");
    files.absent(List.of("ssl.truststore.password"));
    files
        .together()
        .ifPresent(
            own -> {
              files.set(List.of("ssl.keystore.location"), own);
              files.set(TYPES.get(1), "PEM");
              files.absent(List.of("ssl.keystore.password"));
              files.absent(List.of("ssl.key.password"));
            });
  }
}
