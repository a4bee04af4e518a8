// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.StandardSocketOptions;
import java.nio.channels.CancelledKeyException;
import java.nio.channels.SelectionKey;
import java.nio.channels.Selector;
import java.nio.channels.ServerSocketChannel;
import java.nio.channels.SocketChannel;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Where clients connect. One thread holds all their connections and passes on, to the server behind
 * it, those that have begun to speak TLS; so that whoever connects and says nothing, or stops in
 * the middle of a handshake, costs a socket and no thread, and not for long:
 *
 * <ul>
 *   <li>one address holds a share of the connections;
 *   <li>a quarter of them is kept for addresses from which an account has asked before;
 *   <li>a connection that has had no answer yet is cut after {@link #PATIENT}; where there are
 *       many, of all or of its address, after {@link #BUSY}. One that was answered and is idle
 *       likewise.
 * </ul>
 *
 * <p>Nothing is decrypted here. The server behind it listens on loopback, and answers only what
 * comes from here.
 */
final class Gate implements AutoCloseable {
  static final int CONNECTIONS = 900;
  static final int OF_ADDRESS = 128;

  /** In milliseconds; a client on a slow line needs a few seconds for a handshake. */
  private static final long PATIENT = 15_000;

  private static final long BUSY = 3_000; // milliseconds
  private static final long IDLE = 30_000; // milliseconds
  private static final long TICK = 250; // milliseconds
  private static final int KNOWN = 10_000; // addresses that are remembered
  private static final Logger LOG = LoggerFactory.getLogger(Gate.class);

  private final InetSocketAddress behind;
  private final ServerSocketChannel door;
  private final Selector selector;
  private final Thread thread;
  private final List<Passage> passages = new ArrayList<>(); // of the gate's thread
  private final Map<String, Integer> held = new HashMap<>(); // of the gate's thread
  private final Map<Integer, Passage> byPort = new ConcurrentHashMap<>(); // towards the server
  private final Map<String, Boolean> known =
      java.util.Collections.synchronizedMap(
          new LinkedHashMap<>(16, 0.75f, true) {
            private static final long serialVersionUID = 1L;

            @Override
            protected boolean removeEldestEntry(Map.Entry<String, Boolean> eldest) {
              return size() > KNOWN;
            }
          });

  private Gate(InetSocketAddress behind, ServerSocketChannel door, Selector selector) {
    this.behind = behind;
    this.door = door;
    this.selector = selector;
    this.thread = new Thread(this::run, "symbolon-gate");
    this.thread.setDaemon(true);
  }

  /** Listens; what comes goes on to the server behind. */
  static Gate open(InetSocketAddress listen, InetSocketAddress behind) throws IOException {
    ServerSocketChannel door = ServerSocketChannel.open();
    try {
      door.setOption(StandardSocketOptions.SO_REUSEADDR, true);
      door.bind(listen, CONNECTIONS);
      door.configureBlocking(false);
      Selector selector = Selector.open();
      door.register(selector, SelectionKey.OP_ACCEPT);
      Gate gate = new Gate(behind, door, selector);
      gate.thread.start();
      return gate;
    } catch (IOException | RuntimeException e) {
      door.close();
      throw e;
    }
  }

  InetSocketAddress address() {
    return (InetSocketAddress) door.socket().getLocalSocketAddress();
  }

  /** Whose connection it is that the server sees from a port; nothing where it is not from here. */
  Optional<String> client(InetSocketAddress seen) {
    return Optional.ofNullable(byPort.get(seen.getPort())).map(Passage::client);
  }

  /** An answer was given. */
  void answered(InetSocketAddress seen) {
    Passage passage = byPort.get(seen.getPort());
    if (passage != null) {
      passage.answered();
    }
  }

  /** An account has asked from this address. */
  void knows(String client) {
    known.put(client, true);
  }

  private void run() {
    long ticked = System.nanoTime();
    while (selector.isOpen()) {
      try {
        selector.select(TICK);
        for (SelectionKey key : selector.selectedKeys()) {
          serve(key);
        }
        selector.selectedKeys().clear();
        if ((System.nanoTime() - ticked) / 1_000_000 >= TICK) {
          ticked = System.nanoTime();
          cut(ticked);
        }
      } catch (IOException | RuntimeException e) {
        if (selector.isOpen()) {
          LOG.warn("the gate goes on after a failure", e);
        }
      }
    }
    passages.forEach(Passage::close);
  }

  private void serve(SelectionKey key) {
    if (key.channel() == door) {
      accept();
      return;
    }
    Passage passage = (Passage) key.attachment();
    try {
      passage.move();
    } catch (IOException | CancelledKeyException e) {
      passage.close();
    }
  }

  private void accept() {
    try {
      for (SocketChannel one = door.accept(); one != null; one = door.accept()) {
        InetAddress address = ((InetSocketAddress) one.getRemoteAddress()).getAddress();
        String client = AddressShares.client(address);
        int most = known.containsKey(client) ? CONNECTIONS : CONNECTIONS * 3 / 4;
        if (passages.size() >= most || held.getOrDefault(client, 0) >= OF_ADDRESS) {
          one.close();
          continue;
        }
        held.merge(client, 1, Integer::sum);
        one.configureBlocking(false);
        one.setOption(StandardSocketOptions.TCP_NODELAY, true);
        passages.add(new Passage(client, one, selector, behind, byPort));
      }
    } catch (IOException e) {
      LOG.debug("a connection was gone before it was taken", e);
    }
  }

  private void cut(long now) {
    boolean many = passages.size() > CONNECTIONS / 2;
    passages.removeIf(
        one -> {
          boolean busy = many || held.getOrDefault(one.client(), 0) > OF_ADDRESS / 2;
          long limit = one.isAnswered() ? (busy ? BUSY * 3 : IDLE) : busy ? BUSY : PATIENT;
          if (one.isOpen() && one.waits(now) > limit) {
            one.close();
          }
          if (!one.isOpen()) {
            held.computeIfPresent(one.client(), (same, count) -> count == 1 ? null : count - 1);
          }
          return !one.isOpen();
        });
  }

  @Override
  public void close() {
    try {
      door.close();
      selector.close();
    } catch (IOException e) {
      LOG.debug("the gate could not be closed", e);
    }
  }
}
