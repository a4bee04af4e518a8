// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.beside;

import io.symbolon.acme.beside.Message.Asked;
import io.symbolon.acme.beside.Message.Kind;
import io.symbolon.acme.beside.Message.Outcome;
import io.symbolon.acme.beside.Message.Revoked;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Authority.Revocation;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.record.IssueRecords;
import io.symbolon.issue.record.RecordsState;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.SignatureAlgorithm;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.Channels;
import java.nio.channels.SocketChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.PrivateKey;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The records that another process has open. Thread-safe. */
public final class BesideRecords implements IssueRecords {
  static final int PAGE = 1_000; // certificates in one answer

  private final SocketChannel channel;
  private final DataInputStream in;
  private final DataOutputStream out;
  private final byte[] challenge;
  private final String place;
  private long number;

  private BesideRecords(SocketChannel channel, String place) throws IOException {
    this.channel = channel;
    this.place = place;
    this.in = new DataInputStream(new BufferedInputStream(Channels.newInputStream(channel)));
    this.out = new DataOutputStream(new BufferedOutputStream(Channels.newOutputStream(channel)));
    this.challenge = Message.receive(in);
  }

  /**
   * {@return the records in a folder, if a process has them open and shares them}
   *
   * @param folder the folder of the records
   */
  public static Optional<IssueRecords> find(Path folder) {
    Path path = folder.resolve(BesideServer.NAME);
    if (!Files.exists(path)) {
      return Optional.empty();
    }
    try {
      SocketChannel channel = SocketChannel.open(UnixDomainSocketAddress.of(path));
      try {
        return Optional.of(new BesideRecords(channel, folder.toString()));
      } catch (IOException e) {
        channel.close();
        throw e;
      }
    } catch (IOException | UnsupportedOperationException e) {
      return Optional.empty(); // a killed process has left it
    }
  }

  @Override
  public boolean isShared() {
    return true;
  }

  @Override
  public String place() {
    return place;
  }

  private synchronized Outcome ask(Asked wish, @Nullable PrivateKey key) {
    Outcome outcome;
    try {
      byte[] octets = Message.octets(wish);
      byte[] said = Message.said(challenge, number, octets);
      number++;
      Message.send(out, octets);
      Message.send(out, key == null ? new byte[0] : SignatureAlgorithm.forKey(key).sign(said, key));
      outcome = Message.value(Message.receive(in), Outcome.class);
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The records in " + VisibleText.of(place) + " could not be read or written.",
          "The authority that serves from this folder has ended in the middle: "
              + VisibleText.of(String.valueOf(e.getMessage())),
          wish.kind().isChange()
              ? "Look what is on record with symbolon authority list, then do it again."
              : "Do it again.",
          e);
    }
    if (outcome.refusal() != null) {
      throw outcome.refusal().exception();
    }
    return outcome;
  }

  private Outcome ask(Asked wish) {
    return ask(wish, null);
  }

  private static PrivateKey key(Authority authority) {
    return authority.credential().key().toPrivateKey();
  }

  @Override
  public RecordsState state() {
    return Objects.requireNonNull(ask(Asked.of(Kind.STATE)).state());
  }

  @Override
  public void add(Collection<Certificate> certificates, Authority authority) {
    Outcome unused =
        ask(
            new Asked(Kind.ADD, null, 0, 0, 0, Message.encoded(certificates), null),
            key(authority));
  }

  @Override
  public RevocationList revoke(
      Collection<Revocation> revoked, Authority authority, Instant now, Lifetime lasts) {
    Outcome outcome =
        ask(
            new Asked(
                Kind.REVOKE,
                lasts.toString(),
                0,
                0,
                0,
                null,
                revoked.stream().map(Revoked::of).toList()),
            key(authority));
    return Message.list(Objects.requireNonNull(outcome.list()));
  }

  @Override
  public void keep(RevocationList list) {
    Outcome unused = ask(Asked.of(Kind.KEEP, Message.encoded(list)));
  }

  @Override
  public Optional<RevocationList> list() {
    return Optional.ofNullable(ask(Asked.of(Kind.LIST)).list()).map(Message::list);
  }

  @Override
  public Optional<Certificate> issued(BigInteger serial) {
    return Message.certificates(ask(Asked.of(Kind.ISSUED, serial.toString(16))).certificates())
        .stream()
        .findFirst();
  }

  @Override
  public List<Certificate> page(long from, int most) {
    List<Certificate> all = new ArrayList<>();
    while (all.size() < most) {
      int part = Math.min(PAGE, most - all.size());
      List<Certificate> some =
          Message.certificates(
              ask(new Asked(Kind.PAGE, null, from + all.size(), 0, part, null, null))
                  .certificates());
      all.addAll(some);
      if (some.size() < part) {
        break;
      }
    }
    return all;
  }

  @Override
  public List<Certificate> find(String text, int most) {
    return Message.certificates(
        ask(new Asked(Kind.FIND, text, 0, 0, Math.min(most, PAGE), null, null)).certificates());
  }

  @Override
  public List<Certificate> ending(Instant from, Instant until, int most) {
    return Message.certificates(
        ask(new Asked(
                Kind.ENDING,
                null,
                from.getEpochSecond(),
                until.getEpochSecond(),
                Math.min(most, PAGE),
                null,
                null))
            .certificates());
  }

  @Override
  public Optional<Revocation> revocation(BigInteger serial) {
    return revocations(ask(Asked.of(Kind.REVOCATION, serial.toString(16)))).stream().findFirst();
  }

  @Override
  public List<Revocation> revoked() {
    return revocations(ask(Asked.of(Kind.REVOKED)));
  }

  private static List<Revocation> revocations(Outcome outcome) {
    return outcome.revoked() == null
        ? List.of()
        : outcome.revoked().stream().map(Revoked::revocation).toList();
  }

  @Override
  public void close() {
    try {
      channel.close();
    } catch (IOException e) {
      // it closes with the process
    }
  }
}
