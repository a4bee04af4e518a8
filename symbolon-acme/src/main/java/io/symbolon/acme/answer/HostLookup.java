// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.answer.AnswerPlan.Lookup;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.UnknownHostException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.xbill.DNS.DClass;
import org.xbill.DNS.Message;
import org.xbill.DNS.Name;
import org.xbill.DNS.Rcode;
import org.xbill.DNS.Record;
import org.xbill.DNS.ResolverConfig;
import org.xbill.DNS.Section;
import org.xbill.DNS.SimpleResolver;
import org.xbill.DNS.TXTRecord;
import org.xbill.DNS.TextParseException;
import org.xbill.DNS.Type;

/** Finds hosts and their records. */
final class HostLookup {
  private static final Duration LIMIT = Duration.ofSeconds(5);
  private static final int MOST = 10;

  private final Lookup plan;

  HostLookup(Lookup plan) {
    this.plan = plan;
  }

  /** The addresses of a host or an address. */
  List<InetAddress> addresses(HostName host) throws Trouble {
    String known = plan.addresses().get(host.toString());
    try {
      if (host.isAddress() || known != null) {
        return List.of(InetAddress.getByName(known == null ? host.toString() : known));
      }
      if (plan.dns().isEmpty()) {
        return List.of(InetAddress.getAllByName(host.toString()));
      }
    } catch (UnknownHostException e) {
      throw new Trouble(ProblemType.DNS, "the DNS knows no address of " + host);
    }
    List<InetAddress> all = new ArrayList<>();
    for (int type : List.of(Type.A, Type.AAAA)) {
      for (Record one : records(host.toString(), type)) {
        if (one.getType() == type && all.size() < MOST) {
          try {
            all.add(InetAddress.getByAddress(one.rdataToWireCanonical()));
          } catch (UnknownHostException e) {
            // a record of another length is no address
          }
        }
      }
    }
    if (all.isEmpty()) {
      throw new Trouble(ProblemType.DNS, "the DNS knows no address of " + host);
    }
    return all;
  }

  /** The texts of the TXT records of a name, with aliases followed. */
  List<String> texts(String name) throws Trouble {
    List<String> texts = new ArrayList<>();
    for (Record one : records(name, Type.TXT)) {
      if (one instanceof TXTRecord text) {
        texts.add(String.join("", text.getStrings()));
      }
    }
    return texts;
  }

  private List<Record> records(String name, int type) throws Trouble {
    try {
      Name asked = Name.fromString(name, Name.root);
      Message answer = resolver().send(Message.newQuery(Record.newRecord(asked, type, DClass.IN)));
      if (answer.getRcode() != Rcode.NOERROR && answer.getRcode() != Rcode.NXDOMAIN) {
        throw new Trouble(
            ProblemType.DNS,
            "the DNS answered " + Rcode.string(answer.getRcode()) + " for " + name);
      }
      return answer.getSection(Section.ANSWER);
    } catch (TextParseException e) {
      throw new Trouble(ProblemType.DNS, name + " is no name of the DNS");
    } catch (IOException e) {
      throw new Trouble(ProblemType.DNS, "the DNS did not answer for " + name);
    }
  }

  private SimpleResolver resolver() throws UnknownHostException {
    Optional<InetSocketAddress> server = plan.dns();
    SimpleResolver resolver =
        new SimpleResolver(server.orElseGet(() -> ResolverConfig.getCurrentConfig().server()));
    resolver.setTimeout(LIMIT);
    return resolver;
  }
}
