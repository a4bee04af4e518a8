// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.proof.DnsRecord;
import io.symbolon.acme.proof.HttpFolder;
import io.symbolon.acme.proof.HttpListener;
import io.symbolon.acme.proof.OwnProgram;
import io.symbolon.acme.proof.Proof;
import io.symbolon.acme.proof.TlsListener;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.NetworkAddress;
import io.symbolon.cli.frame.Usage;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * How control of a host is proven, as {@code --proof} says it.
 *
 * @param words the kinds, each perhaps with what it needs behind an equals sign
 * @param dnsKey the file with the key for updates of the DNS
 */
record ProofOptions(List<String> words, Optional<Path> dnsKey) {
  static final String HELP =
      "How control of a host is proven: listen[=ADDRESS:PORT] (a file over HTTP, served here on port"
          + " 80; the default), folder=PATH (the file in a web server's"
          + " document folder), dns=SERVER[:PORT] (a record, with --dns-key FILE; wildcards need"
          + " it), tls[=ADDRESS:PORT] (a certificate, shown here on port 443), program=PATH or"
          + " dns-program=PATH (your own program: docs/automatic.md). May be given several times.";

  private static final Duration DNS_LIMIT = Duration.ofMinutes(5);
  private static final Duration PROGRAM_LIMIT = Duration.ofMinutes(5);
  private static final int HTTP = 80;
  private static final int HTTPS = 443;
  private static final int DNS = 53;

  static ProofOptions of(GivenOptions given) {
    ProofOptions options = new ProofOptions(given.values("proof"), given.pathOf("dns-key"));
    if (options.dnsKey().isPresent()
        && options.words().stream().noneMatch(one -> one.startsWith("dns="))) {
      throw Usage.wrong(
          "--dns-key is given, and no name server.", "Name it as well: --proof dns=SERVER");
    }
    return options;
  }

  List<Proof> proofs(Clock clock) {
    List<Proof> all = new ArrayList<>();
    for (String word : words.isEmpty() ? List.of("listen") : words) {
      all.add(proof(word, clock));
    }
    return all;
  }

  /** How each of them is told to people. */
  List<String> titles(Clock clock) {
    return proofs(clock).stream().map(Proof::title).toList();
  }

  private Proof proof(String text, Clock clock) {
    int equals = text.indexOf('=');
    String kind = equals < 0 ? text : text.substring(0, equals);
    String value = equals < 0 ? "" : text.substring(equals + 1);
    boolean needs = !kind.equals("listen") && !kind.equals("tls");
    if (needs && value.isEmpty()) {
      throw wrong(text);
    }
    return switch (kind) {
      case "listen" -> new HttpListener(NetworkAddress.of(value, HTTP));
      case "tls" -> new TlsListener(NetworkAddress.of(value, HTTPS), clock, new SecureRandom());
      case "folder" -> new HttpFolder(GivenOptions.path(value));
      case "dns" ->
          new DnsRecord(NetworkAddress.of(value, DNS), dnsKey, DNS_LIMIT, ProofOptions::sleep);
      case "program" -> new OwnProgram(GivenOptions.path(value), "http-01", PROGRAM_LIMIT);
      case "dns-program" -> new OwnProgram(GivenOptions.path(value), "dns-01", PROGRAM_LIMIT);
      default -> throw wrong(text);
    };
  }

  private static void sleep(Duration time) {
    try {
      Thread.sleep(time.toMillis());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static RuntimeException wrong(String text) {
    return Usage.wrong(
        "There is no proof '" + VisibleText.of(text) + "'.",
        "Say listen, folder=PATH, dns=SERVER, tls, program=PATH or dns-program=PATH.");
  }

  /** The same with whole paths, for another day. */
  List<String> typed() {
    List<String> typed = new ArrayList<>();
    for (String word : words) {
      int equals = word.indexOf('=');
      boolean path = word.startsWith("folder=") || word.contains("program=");
      typed.add("--proof");
      typed.add(
          path
              ? word.substring(0, equals + 1)
                  + GivenOptions.path(word.substring(equals + 1)).toAbsolutePath().normalize()
              : word);
    }
    dnsKey.ifPresent(
        file -> {
          typed.add("--dns-key");
          typed.add(file.toAbsolutePath().normalize().toString());
        });
    return typed;
  }
}
