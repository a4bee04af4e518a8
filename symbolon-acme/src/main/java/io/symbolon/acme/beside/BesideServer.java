// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.beside;

import io.symbolon.acme.beside.Message.Asked;
import io.symbolon.acme.beside.Message.Kind;
import io.symbolon.acme.beside.Message.Outcome;
import io.symbolon.acme.beside.Message.Refusal;
import io.symbolon.acme.wire.Daemons;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Authority.Revocation;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.record.IssueRecords;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.SignatureAlgorithm;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.Channels;
import java.nio.channels.ServerSocketChannel;
import java.nio.channels.SocketChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import java.util.concurrent.ThreadFactory;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Lets other processes use the records that this one has open, over a socket in a folder that only
 * its owner may enter. Whoever changes something also shows that they have the authority's key: to
 * be the same user is not enough to revoke. Thread-safe.
 */
public final class BesideServer implements AutoCloseable {
  /** The name of the socket in the folder of the records. */
  public static final String NAME = "beside.socket";

  private static final Logger LOG = LoggerFactory.getLogger(BesideServer.class);
  private static final ThreadFactory NEW_THREAD = Daemons.named("symbolon-beside");
  private static final int CHALLENGE = 32; // octets
  private static final int AT_ONCE = 64; // connections

  private final ServerSocketChannel socket;
  private final Path path;
  private final IssueRecords records;
  private final Authority authority;
  private final SecureRandom random;
  private final Clock clock;
  private final Semaphore places = new Semaphore(AT_ONCE);

  private BesideServer(
      ServerSocketChannel socket,
      Path path,
      IssueRecords records,
      Authority authority,
      SecureRandom random,
      Clock clock) {
    this.socket = socket;
    this.path = path;
    this.records = records;
    this.authority = authority;
    this.random = random;
    this.clock = clock;
  }

  /**
   * Starts it. The caller has the records open, and so knows that a socket that is there is one
   * that a killed process has left.
   *
   * @param folder the folder of the records
   * @param authority the authority, which signs what others change
   * @param random where random numbers come from
   * @return the running server; nothing where this system has no such sockets
   */
  public static Optional<BesideServer> start(
      Path folder, IssueRecords records, Authority authority, SecureRandom random, Clock clock) {
    Path path = folder.resolve(NAME);
    try {
      Files.deleteIfExists(path);
      ServerSocketChannel socket = ServerSocketChannel.open(StandardProtocolFamily.UNIX);
      try {
        ServerSocketChannel unused = socket.bind(UnixDomainSocketAddress.of(path));
      } catch (IOException e) {
        socket.close();
        throw e;
      }
      BesideServer server = new BesideServer(socket, path, records, authority, random, clock);
      NEW_THREAD.newThread(server::accept).start();
      return Optional.of(server);
    } catch (IOException | UnsupportedOperationException e) {
      LOG.warn("other commands can't use the records while this one runs: {}", e.toString());
      return Optional.empty();
    }
  }

  private void accept() {
    while (socket.isOpen()) {
      try {
        SocketChannel one = socket.accept();
        if (places.tryAcquire()) {
          NEW_THREAD.newThread(() -> answer(one)).start();
        } else {
          one.close();
        }
      } catch (IOException e) {
        // closed, or the other side has gone
      }
    }
  }

  private void answer(SocketChannel channel) {
    try (channel;
        DataInputStream in =
            new DataInputStream(new BufferedInputStream(Channels.newInputStream(channel)));
        DataOutputStream out =
            new DataOutputStream(new BufferedOutputStream(Channels.newOutputStream(channel)))) {
      byte[] challenge = new byte[CHALLENGE];
      random.nextBytes(challenge);
      Message.send(out, challenge);
      for (long number = 0; ; number++) {
        byte[] wish = Message.receive(in);
        byte[] signature = Message.receive(in);
        Message.send(out, Message.octets(answer(wish, signature, challenge, number)));
      }
    } catch (IOException | RuntimeException e) {
      LOG.debug("a command beside this one has ended", e);
    } finally {
      places.release();
    }
  }

  private Outcome answer(byte[] octets, byte[] signature, byte[] challenge, long number)
      throws IOException {
    try {
      Asked wish = Message.value(octets, Asked.class);
      if (wish.kind().isChange()
          && !SignatureAlgorithm.isSigned(
              Message.said(challenge, number, octets),
              signature,
              authority.certificate().publicKey().toPublicKey())) {
        throw refused("It is not signed by the authority's key.");
      }
      return done(wish);
    } catch (SymbolonException e) {
      return new Outcome(Refusal.of(e), null, null, null, null);
    }
  }

  private static SymbolonException refused(String seen) {
    return new SymbolonException(
        Reason.REFUSED, "The records were not changed.", seen, "Open the key of the authority.");
  }

  private Outcome done(Asked wish) {
    Kind kind = wish.kind();
    String text = wish.text() == null ? "" : wish.text();
    return switch (kind) {
      case STATE -> new Outcome(null, records.state(), null, null, null);
      case ADD -> {
        List<Certificate> added = Message.certificates(wish.certificates());
        if (!added.stream().allMatch(authority::hasSigned)) {
          throw refused("One of the certificates is not signed by this authority.");
        }
        records.add(added, authority);
        yield Outcome.nothing();
      }
      case REVOKE -> {
        List<Revocation> all =
            wish.revoked() == null
                ? List.of()
                : wish.revoked().stream().map(Message.Revoked::revocation).toList();
        RevocationList list = records.revoke(all, authority, clock.instant(), Lifetime.parse(text));
        yield new Outcome(null, null, Message.encoded(list), null, null);
      }
      case KEEP -> {
        RevocationList list = Message.list(text);
        if (list.verify(authority.certificate()) != SignatureAlgorithm.Validity.VALID) {
          throw refused("The revocation list is not signed by this authority.");
        }
        records.keep(list);
        yield Outcome.nothing();
      }
      case LIST ->
          new Outcome(null, null, records.list().map(Message::encoded).orElse(null), null, null);
      case ISSUED ->
          Outcome.certificates(records.issued(new BigInteger(text, 16)).stream().toList());
      case PAGE -> Outcome.certificates(records.page(wish.from(), bounded(wish)));
      case FIND -> Outcome.certificates(records.find(text, bounded(wish)));
      case ENDING ->
          Outcome.certificates(
              records.ending(
                  Instant.ofEpochSecond(wish.from()),
                  Instant.ofEpochSecond(wish.until()),
                  bounded(wish)));
      case REVOCATION ->
          Outcome.revoked(records.revocation(new BigInteger(text, 16)).stream().toList());
      case REVOKED -> Outcome.revoked(records.revoked());
    };
  }

  private static int bounded(Asked wish) {
    return Math.max(0, Math.min(wish.most(), BesideRecords.PAGE));
  }

  /** Ends it; the records stay open. */
  @Override
  public void close() {
    try {
      socket.close();
      Files.deleteIfExists(path);
    } catch (IOException e) {
      // whoever opens the records next deletes it
    }
  }
}
