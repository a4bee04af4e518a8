// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.party.CipherSuite;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.List;

/**
 * The first message of a handshake (RFC 8446, 4.1.2; RFC 5246, 7.4.1.2) with exactly one protocol
 * version and some cipher suites. The platform offers neither old versions nor weak suites, so that
 * only a message of our own can tell whether a server takes them. It is never followed by another.
 */
final class Offer {
  private static final int GROUPS = 10;
  private static final int SIGNATURES = 13;
  private static final int RENEGOTIATION = 0xFF01;
  private static final int EXTENDED_SECRET = 23;
  private static final int POINT_FORMATS = 11;
  private static final int SUPPORTED_VERSIONS = 43;
  private static final int KEY_SHARE = 51;

  /** X25519, the curves of NIST, X448, and the finite fields of RFC 7919. */
  private static final int[] ALL_GROUPS = {
    0x001D, 0x0017, 0x0018, 0x0019, 0x001E, 0x0100, 0x0101, 0x0102
  };

  /** ECDSA, Ed25519 and Ed448, RSA-PSS and RSA with every digest that was ever allowed. */
  private static final int[] ALL_SIGNATURES = {
    0x0403, 0x0503, 0x0603, 0x0807, 0x0808, 0x0804, 0x0805, 0x0806, 0x0809, 0x080A, 0x080B, 0x0401,
    0x0501, 0x0601, 0x0303, 0x0301, 0x0203, 0x0201, 0x0402, 0x0202
  };

  private final ProtocolVersion version;
  private final List<CipherSuite> suites;
  private final HostName host;
  private final SecureRandom random;

  Offer(ProtocolVersion version, List<CipherSuite> suites, HostName host, SecureRandom random) {
    this.version = version;
    this.suites = suites;
    this.host = host;
    this.random = random;
  }

  /** The message in one record. */
  byte[] record() {
    Octets hello = new Octets();
    boolean latest = version == ProtocolVersion.TLS_1_3;
    hello.two(latest ? ProtocolVersion.TLS_1_2.code() : version.code());
    hello.random(32);
    hello.one(latest ? 32 : 0); // a session for boxes on the way that expect one (D.4)
    hello.random(latest ? 32 : 0);
    Octets codes = new Octets();
    suites.forEach(suite -> codes.two(suite.code()));
    hello.sized(2, codes);
    hello.one(1).one(0); // no compression
    if (version != ProtocolVersion.SSL_3_0) {
      hello.sized(2, extensions(latest));
    }
    Octets message = new Octets().one(1).sized(3, hello);
    int outer = Math.min(version.code(), ProtocolVersion.TLS_1_0.code());
    return new Octets().one(22).two(outer).sized(2, message).toByteArray();
  }

  private Octets extensions(boolean latest) {
    Octets all = new Octets();
    if (!host.isAddress()) {
      Octets name = new Octets();
      name.writeBytes(host.toString().getBytes(StandardCharsets.US_ASCII));
      all.two(0).sized(2, new Octets().sized(2, new Octets().one(0).sized(2, name)));
    }
    all.two(GROUPS).sized(2, new Octets().sized(2, new Octets().all(ALL_GROUPS)));
    if (latest || version == ProtocolVersion.TLS_1_2) {
      all.two(SIGNATURES).sized(2, new Octets().sized(2, new Octets().all(ALL_SIGNATURES)));
    }
    if (latest) {
      all.two(SUPPORTED_VERSIONS).sized(2, new Octets().sized(1, new Octets().two(version.code())));
      // No share of a key: the server names its choice and asks for one (4.2.8).
      all.two(KEY_SHARE).sized(2, new Octets().sized(2, new Octets()));
    } else {
      all.two(POINT_FORMATS).sized(2, new Octets().sized(1, new Octets().one(0)));
      all.two(EXTENDED_SECRET).sized(2, new Octets());
      all.two(RENEGOTIATION).sized(2, new Octets().one(0));
    }
    return all;
  }

  /** Octets as TLS writes them (RFC 8446, 3). */
  private final class Octets extends ByteArrayOutputStream {
    Octets one(int value) {
      write(value);
      return this;
    }

    Octets two(int value) {
      write(value >> 8);
      write(value);
      return this;
    }

    Octets all(int[] values) {
      for (int value : values) {
        two(value);
      }
      return this;
    }

    void random(int length) {
      byte[] octets = new byte[length];
      random.nextBytes(octets);
      writeBytes(octets);
    }

    /** Something behind its length in so many octets. */
    Octets sized(int lengthOctets, Octets content) {
      for (int i = lengthOctets - 1; i >= 0; i--) {
        write(content.size() >> (8 * i));
      }
      writeBytes(content.toByteArray());
      return this;
    }
  }
}
