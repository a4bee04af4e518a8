// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import io.symbolon.finding.Side;
import java.nio.ByteBuffer;
import java.util.Optional;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLEngineResult;
import javax.net.ssl.SSLEngineResult.HandshakeStatus;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLSession;

/**
 * Carries octets between two engines of the platform until both are through with the handshake or
 * one has given up. An alert of one side reaches the other, as it would over a network. Not
 * thread-safe.
 */
public final class MemoryHandshake {
  private static final int ROUNDS = 2_000; // a handshake takes about ten

  private final End server;
  private final End client;

  private MemoryHandshake(SSLEngine server, SSLEngine client) {
    this.server = new End(server);
    this.client = new End(client);
  }

  /**
   * How it ended.
   *
   * @param server what the server's side failed with
   * @param client what the client's side failed with
   * @param session what was agreed on, where both came through
   * @param first the side that gave up first, where one did
   */
  public record HandshakeEnd(
      Optional<SSLException> server,
      Optional<SSLException> client,
      Optional<SSLSession> session,
      Optional<Side> first) {
    public Optional<SSLException> of(Side side) {
      return side == Side.SERVER ? server : client;
    }
  }

  public static HandshakeEnd run(SSLEngine server, SSLEngine client) {
    return new MemoryHandshake(server, client).run();
  }

  private HandshakeEnd run() {
    Optional<Side> first = Optional.empty();
    client.begin();
    server.begin();
    for (int round = 0; round < ROUNDS; round++) {
      boolean moved = client.step(server);
      if (first.isEmpty() && client.failure != null) {
        first = Optional.of(Side.CLIENT);
      }
      moved |= server.step(client);
      if (first.isEmpty() && server.failure != null) {
        first = Optional.of(Side.SERVER);
      }
      if (!moved) {
        break;
      }
    }
    boolean done = server.failure == null && client.failure == null && client.isDone();
    if (!done && first.isEmpty()) {
      client.failure = new SSLException("the handshake did not end");
      first = Optional.of(Side.CLIENT);
    }
    return new HandshakeEnd(
        Optional.ofNullable(server.failure),
        Optional.ofNullable(client.failure),
        done ? Optional.of(client.engine.getSession()) : Optional.empty(),
        first);
  }

  /** One engine with the octets on their way to it. */
  private static final class End {
    private static final ByteBuffer NOTHING = ByteBuffer.allocate(0);

    private final SSLEngine engine;
    private final ByteBuffer plain;
    private final ByteBuffer packet;
    private ByteBuffer incoming = ByteBuffer.allocate(1 << 16).flip();
    private @org.jspecify.annotations.Nullable SSLException failure;
    private boolean greeted;

    End(SSLEngine engine) {
      this.engine = engine;
      this.plain = ByteBuffer.allocate(engine.getSession().getApplicationBufferSize() + 1024);
      this.packet = ByteBuffer.allocate(engine.getSession().getPacketBufferSize() + 1024);
    }

    boolean isDone() {
      return greeted;
    }

    void begin() {
      try {
        engine.beginHandshake();
      } catch (SSLException e) {
        failure = e; // such as no protocol version that is switched on
      }
    }

    /** Does what can be done now; whether anything was. */
    boolean step(End peer) {
      boolean moved = false;
      try {
        while (true) {
          HandshakeStatus status = engine.getHandshakeStatus();
          if (status == HandshakeStatus.NEED_TASK) {
            Runnable task = engine.getDelegatedTask();
            while (task != null) {
              task.run();
              task = engine.getDelegatedTask();
            }
            moved = true;
          } else if (status == HandshakeStatus.NEED_WRAP) {
            if (!wrap(peer, NOTHING)) {
              return moved;
            }
            moved = true;
          } else if (incoming.hasRemaining()) {
            if (!unwrap()) {
              return moved;
            }
            moved = true;
          } else if (status == HandshakeStatus.NOT_HANDSHAKING && !greeted && isStarted()) {
            // An octet of data: with TLS 1.3 only it tells the client what the server thinks.
            greeted = true;
            moved |= wrap(peer, ByteBuffer.wrap(new byte[] {1}));
          } else {
            return moved;
          }
        }
      } catch (SSLException e) {
        if (failure == null) {
          failure = e;
        }
        sendAlert(peer);
        return true;
      }
    }

    private boolean isStarted() {
      return !engine.getSession().getProtocol().equals("NONE");
    }

    private boolean wrap(End peer, ByteBuffer data) throws SSLException {
      if (engine.isOutboundDone()) {
        return false;
      }
      packet.clear();
      SSLEngineResult result = engine.wrap(data, packet);
      packet.flip();
      peer.receive(packet);
      return result.bytesProduced() > 0 || result.bytesConsumed() > 0;
    }

    private boolean unwrap() throws SSLException {
      plain.clear();
      SSLEngineResult result = engine.unwrap(incoming, plain);
      return result.bytesConsumed() > 0 || result.bytesProduced() > 0;
    }

    private void receive(ByteBuffer octets) {
      ByteBuffer grown = ByteBuffer.allocate(incoming.remaining() + octets.remaining() + 1);
      grown.put(incoming).put(octets).flip();
      incoming = grown;
    }

    private void sendAlert(End peer) {
      try {
        for (int i = 0; i < 5 && engine.getHandshakeStatus() == HandshakeStatus.NEED_WRAP; i++) {
          if (!wrap(peer, NOTHING)) {
            return;
          }
        }
      } catch (SSLException e) {
        // the first failure is the one that counts
      }
    }
  }
}
