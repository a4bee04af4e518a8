// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Optional;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLEngineResult;
import javax.net.ssl.SSLEngineResult.HandshakeStatus;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLSession;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * TLS by the platform's engine over the streams of a socket. The platform's own sockets lose the
 * alert of a peer that hangs up while they still write: their exception says "Broken pipe" only.
 * Here what can't be written is dropped, and what the peer had said is read to its end. It keeps
 * the first octets that came, too: where they are no TLS, they tell what it is.
 */
public final class TlsConversation implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(TlsConversation.class);
  private static final int FIRST = 128;

  private final Socket socket;
  private final InputStream in;
  private final OutputStream out;
  private final SSLEngine engine;
  private final ByteBuffer received;
  private ByteBuffer clear;
  private Optional<IOException> unwritable = Optional.empty();
  private byte[] first = new byte[0];
  private boolean ended;

  /**
   * A conversation that has not begun.
   *
   * @param socket a connection
   * @param engine the engine, in client or server mode
   * @throws IOException if the connection is broken
   */
  public TlsConversation(Socket socket, SSLEngine engine) throws IOException {
    this.socket = socket;
    this.in = socket.getInputStream();
    this.out = socket.getOutputStream();
    this.engine = engine;
    this.received = ByteBuffer.allocate(engine.getSession().getPacketBufferSize());
    this.received.flip();
    this.clear = ByteBuffer.allocate(engine.getSession().getApplicationBufferSize());
    this.clear.flip();
  }

  /**
   * The whole handshake.
   *
   * @throws SSLException if a side refuses it: the peer's alert, or what is wrong with what it sent
   * @throws EOFException if the peer hangs up without a word
   */
  public SSLSession handshake() throws IOException {
    engine.beginHandshake();
    while (isInHandshake(step())) {
      LOG.trace("handshake: {}", engine.getHandshakeStatus());
    }
    return engine.getSession();
  }

  private static boolean isInHandshake(HandshakeStatus status) {
    return status != HandshakeStatus.FINISHED && status != HandshakeStatus.NOT_HANDSHAKING;
  }

  private HandshakeStatus step() throws IOException {
    switch (engine.getHandshakeStatus()) {
      case NEED_TASK -> work();
      case NEED_WRAP -> {
        return send(ByteBuffer.allocate(0)).getHandshakeStatus();
      }
      case NEED_UNWRAP, NEED_UNWRAP_AGAIN -> {
        return receive().getHandshakeStatus();
      }
      case FINISHED, NOT_HANDSHAKING -> {}
    }
    return engine.getHandshakeStatus();
  }

  private void work() {
    for (Runnable task = engine.getDelegatedTask();
        task != null;
        task = engine.getDelegatedTask()) {
      task.run();
    }
  }

  private SSLEngineResult send(ByteBuffer content) throws IOException {
    ByteBuffer packet = ByteBuffer.allocate(engine.getSession().getPacketBufferSize());
    SSLEngineResult result = engine.wrap(content, packet);
    if (unwritable.isEmpty()) {
      try {
        out.write(packet.array(), 0, packet.position());
        out.flush();
      } catch (IOException e) {
        unwritable = Optional.of(e); // the peer hung up; why, may still be there to be read
      }
    }
    return result;
  }

  /** One step of reading: what is there is opened, or more of it is fetched. */
  private SSLEngineResult receive() throws IOException {
    while (true) {
      clear.compact();
      SSLEngineResult result;
      try {
        result = engine.unwrap(received, clear);
      } catch (SSLException e) {
        sayWhy();
        throw e;
      } finally {
        clear.flip();
      }
      switch (result.getStatus()) {
        case BUFFER_UNDERFLOW -> fetch();
        case BUFFER_OVERFLOW -> {
          ByteBuffer larger =
              ByteBuffer.allocate(
                  clear.remaining() + engine.getSession().getApplicationBufferSize());
          larger.put(clear).flip();
          clear = larger;
        }
        case OK, CLOSED -> {
          if (isInHandshake(engine.getHandshakeStatus()) && engine.isInboundDone()) {
            throw new EOFException("the server closed the connection");
          }
          return result;
        }
      }
    }
  }

  /** The alert that the engine has ready after it found a fault. */
  private void sayWhy() {
    try {
      if (engine.getHandshakeStatus() == HandshakeStatus.NEED_WRAP) {
        send(ByteBuffer.allocate(0));
      }
    } catch (IOException e) {
      LOG.trace("the peer does not get the alert", e);
    }
  }

  private void fetch() throws IOException {
    received.compact();
    int count = in.read(received.array(), received.position(), received.remaining());
    if (count < 0) {
      received.flip();
      ended = true;
      if (unwritable.isPresent()) {
        throw unwritable.get();
      }
      throw new EOFException("the server closed the connection");
    }
    if (first.length < FIRST) {
      int more = Math.min(count, FIRST - first.length);
      byte[] joined = Arrays.copyOf(first, first.length + more);
      System.arraycopy(received.array(), received.position(), joined, first.length, more);
      first = joined;
    }
    received.position(received.position() + count);
    received.flip();
  }

  /** The first octets that came over the connection, at most 128. */
  public byte[] firstOctets() {
    return first.clone();
  }

  /** The protocol that was agreed on for what is inside (RFC 7301), empty where none was. */
  public String applicationProtocol() {
    String agreed = engine.getApplicationProtocol();
    return agreed == null ? "" : agreed;
  }

  /** What the peer says inside TLS; it ends with the peer's close or hanging up. */
  public InputStream input() {
    return new InputStream() {
      @Override
      public int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : one[0] & 0xFF;
      }

      @Override
      public int read(byte[] into, int from, int length) throws IOException {
        if (length == 0) {
          return 0;
        }
        while (!clear.hasRemaining()) {
          if (ended || engine.isInboundDone()) {
            return -1;
          }
          try {
            receive();
          } catch (EOFException e) {
            return -1;
          }
          while (engine.getHandshakeStatus() == HandshakeStatus.NEED_WRAP
              || engine.getHandshakeStatus() == HandshakeStatus.NEED_TASK) {
            step(); // such as the answer to a change of keys
            if (engine.isOutboundDone()) {
              break;
            }
          }
        }
        int count = Math.min(length, clear.remaining());
        clear.get(into, from, count);
        return count;
      }
    };
  }

  /** What is said to the peer inside TLS. */
  public OutputStream output() {
    return new OutputStream() {
      @Override
      public void write(int octet) throws IOException {
        write(new byte[] {(byte) octet}, 0, 1);
      }

      @Override
      public void write(byte[] octets, int from, int length) throws IOException {
        ByteBuffer content = ByteBuffer.wrap(octets, from, length);
        while (content.hasRemaining() && !engine.isOutboundDone()) {
          send(content);
        }
      }
    };
  }

  /** Says goodbye, where somebody listens, and closes the connection. */
  @Override
  public void close() {
    try (socket) {
      engine.closeOutbound();
      for (int i = 0; i < 4 && !engine.isOutboundDone() && unwritable.isEmpty(); i++) {
        send(ByteBuffer.allocate(0));
      }
    } catch (IOException e) {
      LOG.trace("the peer was gone", e);
    }
  }
}
