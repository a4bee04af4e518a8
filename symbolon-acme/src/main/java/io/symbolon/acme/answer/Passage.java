// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import java.io.Closeable;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.StandardSocketOptions;
import java.nio.ByteBuffer;
import java.nio.channels.SelectionKey;
import java.nio.channels.Selector;
import java.nio.channels.SocketChannel;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * One connection through the {@link Gate}: first held until its first TLS record is whole, then
 * passed on to the server behind, octet for octet in both directions. Of the gate's thread alone,
 * but for {@link #answered}.
 */
final class Passage implements Closeable {
  private static final int BUFFER = 17 << 10; // more than a TLS record
  private static final int HEADER = 5; // octets before a record (RFC 8446, 5.1)
  private static final byte HANDSHAKE = 22;

  private final String client;
  private final SocketChannel outer;
  private final Selector selector;
  private final InetSocketAddress behind;
  private final Map<Integer, Passage> byPort;
  private final ByteBuffer inwards = ByteBuffer.allocate(BUFFER);
  private final ByteBuffer outwards = ByteBuffer.allocate(BUFFER);
  private @Nullable SocketChannel inner;
  private int port;
  private boolean open = true;
  private boolean outerEnded;
  private boolean innerEnded;
  private volatile boolean answered;
  private volatile long since = System.nanoTime();

  Passage(
      String client,
      SocketChannel outer,
      Selector selector,
      InetSocketAddress behind,
      Map<Integer, Passage> byPort)
      throws IOException {
    this.client = client;
    this.outer = outer;
    this.selector = selector;
    this.behind = behind;
    this.byPort = byPort;
    outer.register(selector, SelectionKey.OP_READ, this);
  }

  String client() {
    return client;
  }

  boolean isOpen() {
    return open;
  }

  boolean isAnswered() {
    return answered;
  }

  void answered() {
    answered = true;
    since = System.nanoTime();
  }

  /** For how long it has been without an answer, or since the last one, in milliseconds. */
  long waits(long now) {
    return (now - since) / 1_000_000;
  }

  /** Does what can be done now. */
  void move() throws IOException {
    SocketChannel server = inner;
    if (server == null) {
      begin();
      return;
    }
    if (server.isConnectionPending() && !server.finishConnect()) {
      return;
    }
    outerEnded |= pass(outer, inwards, server);
    innerEnded |= pass(server, outwards, outer);
    if (outerEnded && inwards.position() == 0) {
      server.shutdownOutput();
    }
    if (innerEnded && outwards.position() == 0) {
      close();
      return;
    }
    interests(server);
  }

  /** Reads until the first record is whole, which is one of a handshake. */
  private void begin() throws IOException {
    if (outer.read(inwards) < 0 || (inwards.position() > 0 && inwards.get(0) != HANDSHAKE)) {
      close();
      return;
    }
    if (inwards.position() < HEADER) {
      return;
    }
    int length = ((inwards.get(3) & 0xff) << 8 | (inwards.get(4) & 0xff)) + HEADER;
    if (length > BUFFER) {
      close();
      return;
    }
    if (inwards.position() < length) {
      return;
    }
    SocketChannel server = SocketChannel.open();
    inner = server;
    server.configureBlocking(false);
    server.setOption(StandardSocketOptions.TCP_NODELAY, true);
    server.bind(new InetSocketAddress(behind.getAddress(), 0));
    port = ((InetSocketAddress) server.getLocalAddress()).getPort();
    byPort.put(port, this); // before the server can see it
    boolean unused = server.connect(behind);
    server.register(selector, SelectionKey.OP_CONNECT, this);
    outer.register(selector, 0, this);
    if (!server.isConnectionPending()) {
      move();
    }
  }

  /** Moves octets from one side to the other; whether the first one has ended. */
  private static boolean pass(SocketChannel from, ByteBuffer buffer, SocketChannel to)
      throws IOException {
    boolean ended = false;
    int moved = 1;
    while (moved > 0) {
      int read = buffer.hasRemaining() ? from.read(buffer) : 0;
      ended |= read < 0;
      buffer.flip();
      moved = buffer.hasRemaining() ? to.write(buffer) : 0;
      buffer.compact();
    }
    return ended;
  }

  private void interests(SocketChannel server) throws IOException {
    outer.register(selector, ops(inwards, outerEnded, outwards), this);
    server.register(selector, ops(outwards, innerEnded, inwards), this);
  }

  private static int ops(ByteBuffer reads, boolean ended, ByteBuffer writes) {
    return (reads.hasRemaining() && !ended ? SelectionKey.OP_READ : 0)
        | (writes.position() > 0 ? SelectionKey.OP_WRITE : 0);
  }

  @Override
  public void close() {
    open = false;
    byPort.remove(port, this);
    end(outer);
    SocketChannel server = inner;
    if (server != null) {
      end(server);
    }
  }

  private static void end(SocketChannel channel) {
    try {
      channel.close();
    } catch (IOException e) {
      // it is gone
    }
  }
}
