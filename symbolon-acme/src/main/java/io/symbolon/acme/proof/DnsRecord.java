// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.wire.Sha256;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.UnknownHostException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import org.xbill.DNS.CNAMERecord;
import org.xbill.DNS.DClass;
import org.xbill.DNS.Flags;
import org.xbill.DNS.Message;
import org.xbill.DNS.NSRecord;
import org.xbill.DNS.Name;
import org.xbill.DNS.Rcode;
import org.xbill.DNS.Record;
import org.xbill.DNS.Section;
import org.xbill.DNS.SimpleResolver;
import org.xbill.DNS.TSIG;
import org.xbill.DNS.TXTRecord;
import org.xbill.DNS.TextParseException;
import org.xbill.DNS.Type;
import org.xbill.DNS.Update;

/**
 * A TXT record in the DNS (RFC 8555, 8.4), put in by a dynamic update (RFC 2136) that is signed
 * with a key (RFC 8945). Where the name is an alias of another (CNAME), the record is put there. It
 * is shown when every name server of the zone has it.
 */
public final class DnsRecord implements Proof {
  static final String TYPE = "dns-01";

  private static final String LABEL = "_acme-challenge.";
  private static final int ALIASES = 10;
  private static final int ADDRESSES = 20;
  private static final int TTL = 60;
  private static final Duration ONE = Duration.ofSeconds(10);
  private static final Duration PAUSE = Duration.ofMillis(500);

  private final InetSocketAddress server;
  private final Optional<TSIG> key;
  private final Duration limit;
  private final Consumer<Duration> sleep;

  /**
   * Updates of zones.
   *
   * @param server the name server that takes updates
   * @param key the file with the key that signs them; none where the server lets this host update
   * @param limit how long the other name servers may take
   * @param sleep how time passes
   * @throws SymbolonException if the key can't be used
   */
  public DnsRecord(
      InetSocketAddress server, Optional<Path> key, Duration limit, Consumer<Duration> sleep) {
    this.server = server;
    this.key = key.map(DnsKey::read);
    this.limit = limit;
    this.sleep = sleep;
  }

  @Override
  public String type() {
    return TYPE;
  }

  @Override
  public String title() {
    return "a DNS record, put in at " + server.getHostString();
  }

  @Override
  public boolean suits(Identifier name, boolean wildcard) {
    return name.type().equals(Identifier.DNS);
  }

  /** The name of the record of a host. */
  static String nameOf(Identifier name) {
    return LABEL + name.value();
  }

  /** The text of the record. */
  static String valueOf(String authorization) {
    return Sha256.text(authorization);
  }

  @Override
  public Shown show(Task task) {
    String host = task.name().value();
    try {
      Name name = target(Name.fromString(nameOf(task.name()), Name.root));
      Name zone = zone(name, host);
      TXTRecord record = new TXTRecord(name, DClass.IN, TTL, valueOf(task.authorization()));
      Update update = new Update(zone);
      update.add(record);
      change(update, host);
      try {
        awaitAll(zone, record, host);
      } catch (SymbolonException e) {
        away(zone, record, host);
        throw e;
      }
      return () -> away(zone, record, host);
    } catch (TextParseException e) {
      throw ProofFailure.of(
          task, Reason.INVALID_ARGUMENT, "It is not a name of the DNS.", "Check the host.", e);
    }
  }

  /** Follows aliases to the name where the record belongs. */
  private Name target(Name name) {
    Name at = name;
    for (int i = 0; i < ALIASES; i++) {
      Optional<Name> next = alias(at);
      if (next.isEmpty()) {
        return at;
      }
      at = next.get();
    }
    throw ProofFailure.of(
        name.toString(true),
        Reason.LIMIT_PASSED,
        "More than " + ALIASES + " aliases follow each other from there.",
        "Look at its CNAME records.",
        null);
  }

  private Optional<Name> alias(Name name) {
    Message answer = ask(server, name, Type.CNAME, name.toString(true));
    for (Record one : answer.getSection(Section.ANSWER)) {
      if (one instanceof CNAMERecord alias && one.getName().equals(name)) {
        return Optional.of(alias.getTarget());
      }
    }
    return Optional.empty();
  }

  /** The zone that a name lies in: the next name above it that has a start of authority. */
  private Name zone(Name name, String host) {
    Message answer = ask(server, name, Type.SOA, host);
    List<Record> all = new ArrayList<>(answer.getSection(Section.ANSWER));
    all.addAll(answer.getSection(Section.AUTHORITY));
    for (Record one : all) {
      if (one.getType() == Type.SOA && name.subdomain(one.getName())) {
        return one.getName();
      }
    }
    throw ProofFailure.of(
        host,
        Reason.NOT_FOUND,
        "The name server at "
            + shown(server)
            + " knows no zone for "
            + VisibleText.of(name.toString(true))
            + " ("
            + Rcode.string(answer.getRcode())
            + ").",
        "Name the server that the zone is changed at: " + Input.PROOF.mention("dns=ADDRESS"),
        null);
  }

  private Message ask(InetSocketAddress whom, Name name, int type, String host) {
    try {
      return resolver(whom).send(Message.newQuery(Record.newRecord(name, type, DClass.IN)));
    } catch (IOException e) {
      throw silent(whom, host, e);
    }
  }

  private static SymbolonException silent(InetSocketAddress whom, String host, IOException e) {
    return ProofFailure.of(
        host,
        Reason.NO_ANSWER,
        "The name server at "
            + shown(whom)
            + " did not answer: "
            + VisibleText.of(String.valueOf(e.getMessage())),
        "Check its address: " + Input.PROOF.mention("dns=ADDRESS") + " or dns=ADDRESS:PORT",
        e);
  }

  private static SimpleResolver resolver(InetSocketAddress whom) throws UnknownHostException {
    if (whom.isUnresolved()) {
      throw new UnknownHostException("its name is not known");
    }
    SimpleResolver resolver = new SimpleResolver(whom);
    resolver.setTimeout(ONE);
    return resolver;
  }

  private void change(Update update, String host) {
    Message answer;
    try {
      SimpleResolver resolver = resolver(server);
      resolver.setTCP(true);
      key.ifPresent(resolver::setTSIGKey);
      answer = resolver.send(update);
    } catch (IOException e) {
      throw silent(server, host, e);
    }
    int code =
        answer.getTSIG() == null || answer.getTSIG().getError() == 0
            ? answer.getRcode()
            : answer.getTSIG().getError();
    if (code != Rcode.NOERROR) {
      throw ProofFailure.of(
          host,
          Reason.REFUSED,
          "The name server at " + shown(server) + " refused the record: " + word(code) + ".",
          switch (code) {
            case Rcode.BADSIG, Rcode.BADKEY, Rcode.NOTAUTH ->
                "Check the name, the algorithm and the secret of the key in the file of "
                    + Input.DNS_KEY.mention()
                    + ".";
            case Rcode.BADTIME -> "Set the clock of this machine right, or that of the server.";
            case Rcode.REFUSED -> "Let this key update the zone: allow-update or update-policy.";
            default -> "Look at the log of the name server.";
          },
          null);
    }
  }

  private static String word(int code) {
    return switch (code) {
      case Rcode.BADSIG -> "BADSIG";
      case Rcode.BADKEY -> "BADKEY";
      case Rcode.BADTIME -> "BADTIME";
      default -> Rcode.string(code);
    };
  }

  private void away(Name zone, TXTRecord record, String host) {
    Update update = new Update(zone);
    update.delete(record); // this one alone: others may have theirs at the same name
    change(update, host);
  }

  private void awaitAll(Name zone, TXTRecord record, String host) {
    Duration left = limit;
    Set<InetSocketAddress> missing = new LinkedHashSet<>(nameServers(zone, host));
    while (true) {
      missing.removeIf(one -> has(one, record));
      if (missing.isEmpty()) {
        return;
      }
      if (left.isNegative() || left.isZero() || Thread.currentThread().isInterrupted()) {
        throw ProofFailure.of(
            host,
            Reason.NO_ANSWER,
            "After "
                + limit.toSeconds()
                + " seconds the name server at "
                + shown(missing.iterator().next())
                + " does not show the record.",
            "Look whether it still follows the zone "
                + VisibleText.of(zone.toString(true))
                + ", then order again.",
            null);
      }
      sleep.accept(PAUSE);
      left = left.minus(PAUSE);
    }
  }

  /** The addresses of the zone's name servers; the one that takes updates among them. */
  private Set<InetSocketAddress> nameServers(Name zone, String host) {
    Set<InetSocketAddress> all = new LinkedHashSet<>(List.of(server));
    Message answer = ask(server, zone, Type.NS, host);
    for (Record one : answer.getSection(Section.ANSWER)) {
      if (one instanceof NSRecord name) {
        addresses(name.getTarget(), host, all);
      }
    }
    return all;
  }

  private void addresses(Name name, String host, Set<InetSocketAddress> all) {
    for (int type : List.of(Type.A, Type.AAAA)) {
      for (Record one : ask(server, name, type, host).getSection(Section.ANSWER)) {
        byte[] octets = one.rdataToWireCanonical();
        if (one.getType() == type && all.size() < ADDRESSES) {
          try {
            InetAddress address = InetAddress.getByAddress(octets);
            boolean same = address.equals(server.getAddress());
            all.add(same ? server : new InetSocketAddress(address, SimpleResolver.DEFAULT_PORT));
          } catch (UnknownHostException e) {
            // a record of another length is no address
          }
        }
      }
    }
  }

  private static boolean has(InetSocketAddress whom, TXTRecord record) {
    Message query = Message.newQuery(Record.newRecord(record.getName(), Type.TXT, DClass.IN));
    query.getHeader().unsetFlag(Flags.RD);
    try {
      return resolver(whom).send(query).getSection(Section.ANSWER).contains(record);
    } catch (IOException e) {
      return false; // it may be there in a moment
    }
  }

  private static String shown(InetSocketAddress whom) {
    return VisibleText.of(whom.getHostString() + ":" + whom.getPort());
  }
}
