// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import java.net.Inet6Address;
import java.net.InetAddress;
import java.time.Clock;
import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * What one address may ask for in an hour, so that nobody uses up what is there for all: new
 * accounts and new orders. A network of IPv6 addresses that one customer has (64 bits) counts as
 * one. Kept in memory by each process that answers; the oldest addresses are forgotten first.
 */
final class AddressShares {
  private static final int MOST = 20_000; // addresses that are remembered
  private static final long HOUR = 3600; // seconds
  private static final int PREFIX = 8; // octets of an IPv6 address

  private final int accounts;
  private final int orders;
  private final Clock clock;
  private final Map<String, Deque<Long>> used =
      new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Deque<Long>> eldest) {
          return size() > MOST;
        }
      };

  AddressShares(int accounts, int orders, Clock clock) {
    this.accounts = accounts;
    this.orders = orders;
    this.clock = clock;
  }

  /** The part of an address that counts as one client. */
  static String client(InetAddress address) {
    byte[] octets = address.getAddress();
    return address instanceof Inet6Address
        ? Arrays.toString(Arrays.copyOf(octets, PREFIX))
        : address.getHostAddress();
  }

  /** Counts a new account. */
  void account(String client) throws Trouble {
    take("account " + client, accounts, "too many accounts were made from this address");
  }

  /** Counts a new order. */
  void order(String client) throws Trouble {
    take("order " + client, orders, "too many orders were placed from this address");
  }

  private synchronized void take(String key, int most, String why) throws Trouble {
    long now = clock.instant().getEpochSecond();
    Deque<Long> moments = used.computeIfAbsent(key, one -> new ArrayDeque<>());
    while (!moments.isEmpty() && moments.peekFirst() <= now - HOUR) {
      moments.removeFirst();
    }
    if (moments.size() >= most) {
      throw Trouble.tooMany(why, moments.getFirst() + HOUR - now);
    }
    moments.addLast(now);
  }
}
