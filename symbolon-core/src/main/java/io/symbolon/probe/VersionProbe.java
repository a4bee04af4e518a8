// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.party.CipherSuite;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.x509.HostName;
import java.io.EOFException;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.net.SocketException;
import java.net.SocketTimeoutException;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Asks a server for every protocol version, and in each for every cipher suite: all are offered,
 * the one that is chosen is left out of the next offer, until none is chosen any more. Each offer
 * is one connection.
 */
final class VersionProbe {
  private static final Logger LOG = LoggerFactory.getLogger(VersionProbe.class);
  private static final int SHOWN = 6;
  private static final String SWITCH_OFF =
      "Switch it off in the server, and leave TLS 1.2 and 1.3. Old clients may need it: look into"
          + " the server's log first.";

  private final Connector connector;
  private final HostName host;
  private final SecureRandom random = new SecureRandom();

  VersionProbe(Connector connector, HostName host) {
    this.connector = connector;
    this.host = host;
  }

  /** The answers, the latest version first. */
  List<VersionTaken> run(InetAddress address) {
    ExecutorService executor = Executors.newFixedThreadPool(Limits.CONNECTIONS);
    try {
      List<CompletableFuture<VersionTaken>> all = new ArrayList<>();
      for (ProtocolVersion version : ProtocolVersion.values()) {
        all.add(CompletableFuture.supplyAsync(() -> one(address, version), executor));
      }
      List<VersionTaken> answers = new ArrayList<>(all.stream().map(f -> f.join()).toList());
      Collections.reverse(answers);
      return answers;
    } finally {
      executor.shutdownNow();
    }
  }

  private VersionTaken one(InetAddress address, ProtocolVersion version) {
    List<CipherSuite> left = new ArrayList<>(CipherSuite.of(version));
    List<CipherSuite> taken = new ArrayList<>();
    String seen = "";
    try {
      while (!left.isEmpty()) {
        ServerAnswer answer = ask(address, version, left);
        if (!answer.isChoice() || answer.version() != version.code()) {
          seen = said(answer);
          break;
        }
        CipherSuite chosen =
            left.stream().filter(suite -> suite.code() == answer.suite()).findFirst().orElse(null);
        if (chosen == null) {
          seen = "it chooses a cipher suite that was not offered";
          break;
        }
        left.remove(chosen);
        taken.add(chosen);
      }
      boolean ownOrder = taken.size() > 1 && isOwnOrder(address, version, taken);
      return new VersionTaken(
          version,
          taken.isEmpty() ? VersionTaken.Answer.REFUSED : VersionTaken.Answer.TAKEN,
          taken,
          ownOrder,
          taken.isEmpty() ? seen : "");
    } catch (IOException e) {
      return new VersionTaken(
          version,
          VersionTaken.Answer.NOT_MADE,
          taken,
          false,
          e instanceof SocketTimeoutException
              ? "it did not answer in time"
              : String.valueOf(e.getMessage()));
    }
  }

  private boolean isOwnOrder(InetAddress address, ProtocolVersion version, List<CipherSuite> taken)
      throws IOException {
    List<CipherSuite> turned = new ArrayList<>(taken);
    Collections.reverse(turned);
    return ask(address, version, turned).suite() == taken.get(0).code();
  }

  private ServerAnswer ask(InetAddress address, ProtocolVersion version, List<CipherSuite> suites)
      throws IOException {
    try (Socket socket = connector.open(address);
        Connector.Alarm alarm = connector.alarm(socket)) {
      connector.begin(socket);
      OutputStream out = socket.getOutputStream();
      out.write(new Offer(version, suites, host, random).record());
      out.flush();
      try {
        ServerAnswer answer = ServerAnswer.read(socket.getInputStream());
        if (answer.isChoice()) {
          sayGoodbye(out, answer.version());
        }
        return answer;
      } catch (EOFException | SocketException e) {
        if (alarm.hasRung()) {
          throw new SocketTimeoutException("it did not come to an end in time");
        }
        return ServerAnswer.refused("it closes the connection");
      }
    }
  }

  /**
   * A close_notify (RFC 8446, 6.1), in a record of the version that was agreed on: servers log
   * another one as a failure.
   */
  private static void sayGoodbye(OutputStream out, int version) {
    int inRecord = Math.min(version, ProtocolVersion.TLS_1_2.code()); // RFC 8446, 5.1
    try {
      out.write(new byte[] {21, (byte) (inRecord >> 8), (byte) inRecord, 0, 2, 1, 0});
      out.flush();
    } catch (IOException e) {
      LOG.trace("the server was quicker", e); // its answer is there, and that is what counts
    }
  }

  private static String said(ServerAnswer answer) {
    if (answer.isChoice()) {
      return "it answers with "
          + Arrays.stream(ProtocolVersion.values())
              .filter(version -> version.code() == answer.version())
              .map(ProtocolVersion::title)
              .findFirst()
              .orElse("another version");
    }
    return answer
        .alert()
        .map(
            code ->
                switch (code) {
                  case 40 -> "it says handshake_failure";
                  case 70 -> "it says protocol_version";
                  case 71 -> "it says insufficient_security";
                  case 80 -> "it says internal_error";
                  case 112 -> "it says unrecognized_name";
                  default -> "it says alert " + code;
                })
        .orElse(answer.seen());
  }

  /** What is to be said of the answers. */
  static List<Finding> findings(List<VersionTaken> answers, String where) {
    List<Finding> findings = new ArrayList<>();
    old(answers, ProtocolVersion.SSL_3_0::equals)
        .ifPresent(
            names ->
                findings.add(
                    Finding.of(
                        FindingKind.BROKEN_PROTOCOL_VERSION,
                        where,
                        "The server takes " + names + ", which can be broken (RFC 7568).",
                        SWITCH_OFF)));
    old(answers, v -> v == ProtocolVersion.TLS_1_0 || v == ProtocolVersion.TLS_1_1)
        .ifPresent(
            names ->
                findings.add(
                    Finding.of(
                        FindingKind.OLD_PROTOCOL_VERSION,
                        where,
                        "The server takes "
                            + names
                            + ", which should no longer be used (RFC 8996).",
                        SWITCH_OFF)));
    for (VersionTaken answer : answers) {
      if (answer.answer() == VersionTaken.Answer.NOT_MADE) {
        findings.add(
            Finding.of(
                FindingKind.VERSION_NOT_ASKED,
                where,
                (answer.suites().isEmpty()
                        ? "Whether the server takes "
                        : "Which cipher suites the server takes in ")
                    + answer.version().title()
                    + " was not found out: "
                    + answer.seen()
                    + ".",
                Remedy.of("Probe it again, and wait longer.", Action.again(Input.WAIT))));
      }
    }
    suites(answers, CipherSuite::isBroken)
        .ifPresent(
            names ->
                findings.add(
                    Finding.of(
                        FindingKind.BROKEN_CIPHER_SUITE,
                        where,
                        "The server takes cipher suites that protect nothing today: " + names + ".",
                        "Switch them off in the server.")));
    suites(answers, suite -> suite.isOld() && !suite.isBroken())
        .ifPresent(
            names ->
                findings.add(
                    Finding.of(
                        FindingKind.OLD_CIPHER_SUITE,
                        where,
                        "The server takes cipher suites of old, with blocks of 64 bits: "
                            + names
                            + ".",
                        "Switch them off in the server if no old client needs them.")));
    suites(answers, suite -> !suite.hasForwardSecrecy() && !suite.isBroken())
        .ifPresent(
            names ->
                findings.add(
                    Finding.of(
                        FindingKind.NO_FORWARD_SECRECY,
                        where,
                        "The server takes cipher suites without forward secrecy: "
                            + names
                            + ". What is recorded with them can be read by whoever gets the key"
                            + " later.",
                        "")));
    return findings;
  }

  private static Optional<String> old(
      List<VersionTaken> answers, Predicate<ProtocolVersion> which) {
    String names =
        answers.stream()
            .filter(answer -> answer.answer() == VersionTaken.Answer.TAKEN)
            .map(VersionTaken::version)
            .filter(which)
            .map(ProtocolVersion::title)
            .collect(Collectors.joining(" and "));
    return names.isEmpty() ? Optional.empty() : Optional.of(names);
  }

  private static Optional<String> suites(List<VersionTaken> answers, Predicate<CipherSuite> which) {
    List<String> names =
        answers.stream()
            .flatMap(answer -> answer.suites().stream())
            .filter(which)
            .map(CipherSuite::name)
            .distinct()
            .toList();
    if (names.isEmpty()) {
      return Optional.empty();
    }
    String shown = names.stream().limit(SHOWN).collect(Collectors.joining(", "));
    return Optional.of(
        names.size() > SHOWN ? shown + " and " + (names.size() - SHOWN) + " more" : shown);
  }
}
