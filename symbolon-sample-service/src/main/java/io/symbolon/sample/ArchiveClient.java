// SPDX-License-Identifier: Apache-2.0
package io.symbolon.sample;

import org.jspecify.annotations.Nullable;
import org.springframework.boot.autoconfigure.web.client.RestClientSsl;
import org.springframework.core.env.Environment;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.client.RestClient;

/** Asks another service, with a bundle of this one's settings. */
@RestController
public class ArchiveClient {
  private final RestClient.Builder clients;
  private final RestClientSsl ssl;
  private final Environment settings;

  /**
   * A client that asks when it is asked.
   *
   * @param clients makes clients
   * @param ssl knows the bundles
   * @param settings name the other service, and the bundle
   */
  public ArchiveClient(RestClient.Builder clients, RestClientSsl ssl, Environment settings) {
    this.clients = clients;
    this.ssl = ssl;
    this.settings = settings;
  }

  /** {@return what the other service says} */
  @GetMapping("/archive")
  public @Nullable String archive() {
    return clients
        .apply(ssl.fromBundle(settings.getRequiredProperty("archive.bundle")))
        .build()
        .get()
        .uri(settings.getRequiredProperty("archive.url"))
        .retrieve()
        .body(String.class);
  }
}
