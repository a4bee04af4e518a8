// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.chain.Credential;
import io.symbolon.x509.Certificate;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.MessageDigest;
import java.security.Principal;
import java.security.PrivateKey;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Optional;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509ExtendedKeyManager;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;

/** A few words of a client in each server's protocol: enough to know whether it is served. */
enum ServerTalk {
  HTTP {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      say(out, "GET / HTTP/1.0\r\nHost: " + host + "\r\n\r\n");
      String answer = new String(in.readAllBytes(), StandardCharsets.ISO_8859_1);
      return answer.startsWith("HTTP/1.") && !answer.substring(9).startsWith("400");
    }
  },
  PROXY {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      say(out, "GET http://" + host + "/ HTTP/1.0\r\n\r\n");
      return line(in).startsWith("HTTP/1.1 403"); // by its own rules, which let nobody go on
    }
  },
  SMTP {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      return line(in).startsWith("220");
    }
  },
  FTP {
    @Override
    void switchOn(DataInputStream in, OutputStream out) throws IOException {
      line(in);
      say(out, "AUTH TLS\r\n");
      if (!line(in).startsWith("234")) {
        throw new IOException("no TLS");
      }
    }

    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      say(out, "PBSZ 0\r\n");
      return line(in).startsWith("200");
    }
  },
  IMAP {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      line(in);
      say(out, "a LOGIN buoy rope\r\n");
      String answer = line(in);
      while (answer.startsWith("*")) {
        answer = line(in);
      }
      return answer.startsWith("a OK");
    }
  },
  LDAP {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      out.write(HexFormat.of().parseHex("300c020101600702010304008000"));
      return in.read() == 0x30;
    }
  },
  MQTT {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      out.write(HexFormat.of().parseHex("101000044d5154540402003c000462756f79"));
      return in.read() == 0x20;
    }
  },
  AMQP {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      out.write(HexFormat.of().parseHex("414d515000000901"));
      return in.read() == 1;
    }
  },
  KAFKA {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      out.write(HexFormat.of().parseHex("0000000a0012000000000007ffff")); // which versions?
      return in.readInt() > 0 && in.readInt() == 7;
    }
  },
  ARTEMIS {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      say(out, "ARTEMIS");
      // Which brokers are there? Its answer names this one.
      out.write(
          HexFormat.of().parseHex("0000000e" + "71" + "0000000000000000" + "00" + "0000007b"));
      return in.readInt() > 0;
    }
  },
  REDIS {
    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      say(out, "PING\r\n");
      return line(in).startsWith("+PONG");
    }
  },
  POSTGRESQL {
    @Override
    void switchOn(DataInputStream in, OutputStream out) throws IOException {
      out.write(HexFormat.of().parseHex("0000000804d2162f"));
      if (in.read() != 'S') {
        throw new IOException("no TLS");
      }
    }

    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      byte[] names = "user\0archive\0database\0postgres\0\0".getBytes(StandardCharsets.US_ASCII);
      out.write(
          ByteBuffer.allocate(8 + names.length)
              .putInt(8 + names.length)
              .putInt(3 << 16)
              .put(names)
              .array());
      return in.read() == 'R';
    }
  },
  MARIADB {
    private static final int CAN = 0x0200 | 0x0800 | 0x8000 | 0x0008_0000;

    @Override
    void switchOn(DataInputStream in, OutputStream out) throws IOException {
      byte[] head = in.readNBytes(4);
      in.readNBytes(head[0] & 0xFF);
      out.write(head(1, 0).array());
    }

    @Override
    boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException {
      byte[] login = "buoy\0\0mysql_native_password\0".getBytes(StandardCharsets.US_ASCII);
      out.write(head(2, login.length).put(login).array());
      return in.readNBytes(5)[4] == 0;
    }

    private ByteBuffer head(int number, int more) {
      ByteBuffer packet = ByteBuffer.allocate(36 + more).order(ByteOrder.LITTLE_ENDIAN);
      packet.put(new byte[] {(byte) (32 + more), 0, 0, (byte) number}).putInt(CAN).putInt(1 << 24);
      return packet.put((byte) 45).position(36);
    }
  };

  void switchOn(DataInputStream in, OutputStream out) throws IOException {}

  abstract boolean isServed(DataInputStream in, OutputStream out, String host) throws IOException;

  /**
   * Whether a client is served. It shows its certificate whatever authorities the server names, as
   * clients on other TLS libraries do.
   */
  boolean isServed(int port, String host, Certificate root, Optional<Credential> credential) {
    try {
      return talk(
          InetAddress.getLoopbackAddress().getHostAddress(),
          port,
          host,
          trust(root),
          credential,
          socket -> {
            SSLParameters checking = socket.getSSLParameters();
            checking.setEndpointIdentificationAlgorithm("HTTPS");
            socket.setSSLParameters(checking);
          });
    } catch (IOException | GeneralSecurityException e) {
      return false;
    } catch (ArrayIndexOutOfBoundsException e) {
      return false; // it hung up in the middle of an answer
    }
  }

  /**
   * What a client meets that believes every server.
   *
   * @param shown the server's certificate, SHA-256 in hexadecimal; empty where no TLS was answered
   * @param served whether it was served after that
   */
  record Meeting(String shown, boolean served) {}

  /**
   * Meets a server.
   *
   * @param address of the machine's own, in numbers
   * @param name by which it is asked for; empty for none
   * @param protocol the one version that is offered
   * @param suites a word that all offered cipher suites contain
   */
  Meeting meet(
      String address,
      int port,
      String name,
      String protocol,
      String suites,
      Optional<Credential> client) {
    String[] shown = {""};
    try {
      boolean served =
          talk(
              address,
              port,
              name.isEmpty() ? address : name,
              new TrustManager[] {new Remembering(shown)},
              client,
              socket -> {
                socket.setSoTimeout(10_000);
                socket.setEnabledProtocols(new String[] {protocol});
                socket.setEnabledCipherSuites(
                    Arrays.stream(socket.getSupportedCipherSuites())
                        .filter(suite -> suite.contains(suites))
                        .toArray(String[]::new));
              });
      return new Meeting(shown[0], served);
    } catch (IOException | GeneralSecurityException | ArrayIndexOutOfBoundsException e) {
      return new Meeting(shown[0], false);
    }
  }

  /** What is set on a connection before its handshake. */
  private interface Setting {
    void on(SSLSocket socket) throws IOException;
  }

  /** Connects, speaks TLS, and says a few words. */
  private boolean talk(
      String address,
      int port,
      String host,
      TrustManager[] trust,
      Optional<Credential> client,
      Setting setting)
      throws IOException, GeneralSecurityException {
    try (Socket plain = new Socket(address, port)) {
      plain.setSoTimeout(60_000);
      switchOn(new DataInputStream(plain.getInputStream()), plain.getOutputStream());
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(
          client.map(one -> new X509ExtendedKeyManager[] {new Always(one)}).orElse(null),
          trust,
          null);
      try (SSLSocket socket =
          (SSLSocket) context.getSocketFactory().createSocket(plain, host, port, true)) {
        setting.on(socket);
        return isServed(
            new DataInputStream(socket.getInputStream()), socket.getOutputStream(), host);
      }
    }
  }

  /** Believes everybody, and keeps what was shown. */
  private static final class Remembering extends X509ExtendedTrustManager {
    private final String[] shown;

    Remembering(String[] shown) {
      this.shown = shown;
    }

    private void keep(X509Certificate[] chain) throws CertificateException {
      try {
        byte[] hash = MessageDigest.getInstance("SHA-256").digest(chain[0].getEncoded());
        shown[0] = HexFormat.of().formatHex(hash);
      } catch (GeneralSecurityException e) {
        throw new CertificateException(e);
      }
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket)
        throws CertificateException {
      keep(chain);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine)
        throws CertificateException {
      keep(chain);
    }

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      keep(chain);
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket) {}

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type) {}

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return new X509Certificate[0];
    }
  }

  private static void say(OutputStream out, String text) throws IOException {
    out.write(text.getBytes(StandardCharsets.US_ASCII));
  }

  private static String line(DataInputStream in) throws IOException {
    StringBuilder line = new StringBuilder();
    for (int octet = in.read(); octet != '\n'; octet = in.read()) {
      if (octet < 0) {
        throw new IOException("the server hung up");
      }
      line.append((char) octet);
    }
    return line.toString();
  }

  private static TrustManager[] trust(Certificate root)
      throws IOException, GeneralSecurityException {
    KeyStore roots = KeyStore.getInstance("PKCS12");
    roots.load(null, null);
    roots.setCertificateEntry("root", root.toX509Certificate());
    TrustManagerFactory factory =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    factory.init(roots);
    return factory.getTrustManagers();
  }

  /** Shows its one credential to everybody. */
  private static final class Always extends X509ExtendedKeyManager {
    private final Credential credential;

    Always(Credential credential) {
      this.credential = credential;
    }

    @Override
    public String chooseClientAlias(
        String[] types, Principal @Nullable [] issuers, @Nullable Socket socket) {
      return "buoy";
    }

    @Override
    public X509Certificate[] getCertificateChain(String alias) {
      return credential.chain().stream()
          .map(Certificate::toX509Certificate)
          .toArray(X509Certificate[]::new);
    }

    @Override
    public PrivateKey getPrivateKey(String alias) {
      return credential.key().toPrivateKey();
    }

    @Override
    public String @Nullable [] getClientAliases(String type, Principal @Nullable [] issuers) {
      return null;
    }

    @Override
    public String @Nullable [] getServerAliases(String type, Principal @Nullable [] issuers) {
      return null;
    }

    @Override
    public @Nullable String chooseServerAlias(
        String type, Principal @Nullable [] issuers, @Nullable Socket socket) {
      return null;
    }
  }

  /** What a Redis in clear text says to a command; nothing where it does not listen yet. */
  static String redis(int port, String command) {
    try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
      socket.setSoTimeout(5_000);
      DataInputStream in = new DataInputStream(socket.getInputStream());
      say(socket.getOutputStream(), command + "\r\n");
      String head = line(in);
      byte[] answer =
          head.startsWith("$")
              ? in.readNBytes(Integer.parseInt(head.substring(1).strip()))
              : new byte[0];
      return new String(answer, StandardCharsets.UTF_8);
    } catch (IOException e) {
      return "";
    }
  }
}
