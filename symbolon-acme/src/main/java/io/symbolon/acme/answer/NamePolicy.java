// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.NameConstraints;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Which names may be ordered: what was allowed, and what the authority's constraints permit. */
final class NamePolicy {
  private final List<String> allowed;
  private final Authority authority;

  NamePolicy(List<String> allowed, Authority authority) {
    this.allowed = allowed.stream().map(one -> one.toLowerCase(Locale.ROOT)).toList();
    this.authority = authority;
  }

  /** Why a name may not be ordered. */
  Optional<Problem> refusal(Identifier name) {
    if (!name.type().equals(Identifier.DNS) && !name.type().equals(Identifier.IP)) {
      return Optional.of(
          Problem.of(ProblemType.UNSUPPORTED_IDENTIFIER, "names of the type dns and ip are taken"));
    }
    HostName host;
    try {
      host = name.host();
    } catch (SymbolonException e) {
      return refused("it is no name of a host", name);
    }
    boolean right =
        host.isAddress() == name.type().equals(Identifier.IP)
            && host.toString().equals(name.value());
    if (!right) {
      return refused("it is not written as the standard has it: " + host, name);
    }
    if (!host.isQualified()) {
      return refused("it is no whole name of a host", name);
    }
    boolean named = allowed.stream().anyMatch(one -> isNamed(one, host));
    Optional<String> special = special(host);
    if (!named && special.isPresent()) {
      return refused(special.get() + "; the authority has to permit it by name", name);
    }
    if (!allowed.isEmpty() && allowed.stream().noneMatch(one -> allows(one, host.toString()))) {
      return refused("this authority is not there for it", name);
    }
    for (Certificate link : authority.credential().chain()) {
      Optional<String> constraint =
          link.extensions()
              .nameConstraints()
              .orElse(NameConstraints.none())
              .refusal(name.generalName(), link.subject().shortText());
      if (constraint.isPresent()) {
        return refused("it " + constraint.get(), name);
      }
    }
    return Optional.empty();
  }

  /** A name stands for itself, {@code *.domain} for every host below, wildcards among them. */
  /** Whether the operator has permitted this very name. */
  private static boolean isNamed(String pattern, HostName host) {
    return pattern.equals(host.toString());
  }

  /** Names and addresses that mean something else in each place, or too much. */
  private static Optional<String> special(HostName host) {
    String text = host.toString();
    if (!host.isAddress()) {
      return text.startsWith("*.") && text.indexOf('.', 2) < 0
          ? Optional.of("it stands for everything below a name of one label")
          : Optional.empty();
    }
    if (text.toLowerCase(Locale.ROOT).startsWith("::ffff:")) {
      return Optional.of("it is an IPv4 address written as one of IPv6");
    }
    try {
      InetAddress address = InetAddress.getByName(text);
      if (address.isLoopbackAddress() || address.isAnyLocalAddress()) {
        return Optional.of("it is each machine's own address");
      }
      if (address.isLinkLocalAddress()) {
        return Optional.of("it is an address of one link");
      }
      return address.isMulticastAddress()
          ? Optional.of("it is an address of many machines")
          : Optional.empty();
    } catch (UnknownHostException e) {
      return Optional.of("it is no address");
    }
  }

  private static boolean allows(String pattern, String host) {
    return pattern.startsWith("*.")
        ? host.endsWith(pattern.substring(1)) && !host.equals(pattern.substring(1))
        : host.equals(pattern);
  }

  private static Optional<Problem> refused(String why, Identifier name) {
    return Optional.of(Problem.of(ProblemType.REJECTED_IDENTIFIER, why).about(name.value()));
  }
}
