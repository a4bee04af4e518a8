// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.lossless.Directive;
import io.symbolon.server.place.Endpoint;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * A server block, and the blocks around it whose settings it inherits.
 *
 * @param around the blocks around it, the nearest first; the main level has none
 */
record ServerBlock(Directive block, List<Directive> around) {
  private static final Set<String> NOT_NAMES = Set.of("_", "");

  /** Every server block of http and stream, in order. */
  static List<ServerBlock> in(NginxTree tree) {
    List<ServerBlock> blocks = new ArrayList<>();
    for (Directive top : tree.directives()) {
      if (top.is("http") || top.is("stream")) {
        for (Directive server : top.inside("server")) {
          if (server.block().isPresent()) {
            blocks.add(new ServerBlock(server, List.of(top)));
          }
        }
      }
    }
    return blocks;
  }

  boolean isWeb() {
    return around.stream().anyMatch(one -> one.is("http"));
  }

  List<String> hosts() {
    return block.inside("server_name").stream()
        .flatMap(one -> one.values().stream())
        .filter(name -> !NOT_NAMES.contains(name))
        .toList();
  }

  /** Its listen lines; none means port 80 of every address. */
  List<Listen> listens() {
    return block.inside("listen").stream().map(Listen::of).toList();
  }

  /** Whether two ways of writing an address are one listener for nginx. */
  static boolean isSameAddress(Endpoint one, Endpoint other) {
    return one.port() == other.port() && plain(one.host()).equals(plain(other.host()));
  }

  private static String plain(String host) {
    return switch (host) {
      case "0.0.0.0" -> "";
      case "localhost" -> "127.0.0.1";
      default -> host;
    };
  }

  /** The settings of that name that count in it: its own, else those of the blocks around. */
  List<Directive> inForce(String name) {
    List<Directive> own = block.inside(name);
    if (!own.isEmpty()) {
      return own;
    }
    for (Directive outer : around) {
      List<Directive> inherited = outer.inside(name);
      if (!inherited.isEmpty()) {
        return inherited;
      }
    }
    return List.of();
  }

  Optional<Directive> one(String name) {
    List<Directive> all = inForce(name);
    return all.isEmpty() ? Optional.empty() : Optional.of(all.get(all.size() - 1));
  }

  String word(String name) {
    return one(name).map(directive -> directive.value(0)).orElse("");
  }

  /** Whether it sends all of its clients to TLS, but for some paths and hosts perhaps. */
  boolean isRedirect() {
    boolean all =
        block.inside("location").stream()
            .filter(one -> one.values().equals(List.of("/")))
            .flatMap(one -> one.inside().stream())
            .anyMatch(ServerBlock::sendsToTls);
    return all || block.inside().stream().anyMatch(ServerBlock::sendsToTls);
  }

  /** Whether it is there to send clients to TLS and speaks none itself. */
  boolean isOnlyRedirect() {
    return isRedirect() && listens().stream().noneMatch(one -> one.endpoint().tls());
  }

  private static boolean sendsToTls(Directive one) {
    return (one.is("return") || one.is("rewrite"))
        && one.values().stream().anyMatch(value -> value.startsWith("https://"));
  }

  /**
   * A listen line.
   *
   * @param directive the line
   * @param endpoint the address
   * @param isDefault whether its server answers for names that no server has
   */
  record Listen(Directive directive, Endpoint endpoint, boolean isDefault) {
    static Listen of(Directive directive) {
      List<String> words = directive.values();
      boolean tls = words.contains("ssl") || words.contains("quic");
      boolean first = words.contains("default_server") || words.contains("default");
      return new Listen(directive, endpoint(directive.value(0), tls), first);
    }

    boolean isUnix() {
      return directive.value(0).startsWith("unix:");
    }

    private static Endpoint endpoint(String text, boolean tls) {
      int colon = text.lastIndexOf(':');
      if (text.startsWith("unix:")) {
        return new Endpoint(text, 0, tls);
      }
      if (text.startsWith("[")) {
        int close = text.indexOf(']');
        String host = close < 0 ? text.substring(1) : text.substring(1, close);
        return new Endpoint(host, port(close < 0 ? "" : text.substring(close + 1)), tls);
      }
      if (colon >= 0) {
        String host = text.substring(0, colon);
        return new Endpoint(host.equals("*") ? "" : host, port(text.substring(colon)), tls);
      }
      boolean number = !text.isEmpty() && text.chars().allMatch(Character::isDigit);
      return number ? new Endpoint("", port(":" + text), tls) : new Endpoint(text, 80, tls);
    }

    private static int port(String text) {
      if (!text.startsWith(":")) {
        return 80;
      }
      try {
        return Integer.parseInt(text.substring(1));
      } catch (NumberFormatException e) {
        return 0;
      }
    }
  }
}
