package io.symbolon.tls;

import io.symbolon.Finding;
import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.chain.Credential;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.NoRouteToHostException;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSession;
import javax.net.ssl.SSLSocket;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A real handshake with a running server, and the judgement of what it showed. The settings are
 * immutable: every {@code with} method gives a new probe. Thread-safe.
 */
public final class Probe {
  private static final Logger LOG = LoggerFactory.getLogger(Probe.class);
  private static final int NAMED_SHOWN = 6;
  private static final Duration LATE_ALERT = Duration.ofMillis(400);

  private final String address;
  private final int port;
  private final HostName host;
  private final Optional<Collection<Certificate>> trust;
  private final Duration limit;
  private final Clock clock;
  private final Optional<Credential> credential;
  private final Optional<Certificate> expected;

  private Probe(
      String address,
      int port,
      HostName host,
      Optional<Collection<Certificate>> trust,
      Duration limit,
      Clock clock,
      Optional<Credential> credential,
      Optional<Certificate> expected) {
    this.address = address;
    this.port = port;
    this.host = host;
    this.trust = trust;
    this.limit = limit;
    this.clock = clock;
    this.credential = credential;
    this.expected = expected;
  }

  /**
   * A probe of a server, which is asked for by the name it is reached at, with ten seconds to
   * answer.
   *
   * @param address a host name or an IP address
   * @param port from 1 to 65535
   * @throws SymbolonException if there is no such port or host name
   */
  public static Probe of(String address, int port) {
    if (port < 1 || port > 65_535) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          port + " is no port.",
          "Ports go from 1 to 65535.",
          "Write the address as HOST:PORT, such as ingest.lanternfish.example:8443.");
    }
    HostName host = HostName.parse(address);
    return new Probe(
        host.toString(),
        port,
        host,
        Optional.empty(),
        Duration.ofSeconds(10),
        Clock.systemUTC(),
        Optional.empty(),
        Optional.empty());
  }

  /** With another name to ask for and to check: the one that clients will use. */
  public Probe withHost(HostName host) {
    return new Probe(address, port, host, trust, limit, clock, credential, expected);
  }

  /** With the certificates that a client would trust. */
  public Probe withTrust(Collection<Certificate> trust) {
    return new Probe(
        address, port, host, Optional.of(List.copyOf(trust)), limit, clock, credential, expected);
  }

  /** With another time limit, for connecting and for the handshake each. */
  public Probe withLimit(Duration limit) {
    return new Probe(address, port, host, trust, limit, clock, credential, expected);
  }

  /** With a clock that says what is expired. */
  public Probe withClock(Clock clock) {
    return new Probe(address, port, host, trust, limit, clock, credential, expected);
  }

  /** With what the client shows where the server asks for a certificate (mutual TLS). */
  public Probe withCredential(Credential newCredential) {
    return new Probe(
        address, port, host, trust, limit, clock, Optional.of(newCredential), expected);
  }

  /** With the certificate that the server is expected to show: the one that was deployed. */
  public Probe withExpected(Certificate certificate) {
    return new Probe(
        address, port, host, trust, limit, clock, credential, Optional.of(certificate));
  }

  /**
   * Probes the server. A handshake that fails is in the report.
   *
   * @throws SymbolonException with {@link Reason#NO_ANSWER} if nobody answers at the address
   */
  public ProbeReport run() {
    Observer observer = new Observer(credential);
    try (Socket socket = new Socket()) {
      String reached = connect(socket);
      return handshake(socket, reached, observer);
    } catch (IOException e) {
      LOG.debug("the connection could not be closed", e);
      throw noAnswer(
          "The connection broke: " + VisibleText.of(String.valueOf(e.getMessage())) + ".");
    }
  }

  private String connect(Socket socket) {
    try {
      InetAddress resolved = InetAddress.getByName(address);
      socket.connect(new InetSocketAddress(resolved, port), (int) limit.toMillis());
      String ip = resolved.getHostAddress();
      return address.equals(ip) ? address + ":" + port : address + ":" + port + " (" + ip + ")";
    } catch (UnknownHostException e) {
      throw noAnswer("The name " + address + " is not known to this machine's name service.");
    } catch (SocketTimeoutException e) {
      throw noAnswer(
          "Nothing came back within " + limit.toSeconds() + " seconds; a firewall may drop it.");
    } catch (ConnectException | NoRouteToHostException e) {
      throw noAnswer("The machine refuses the connection: nothing listens on port " + port + ".");
    } catch (IOException e) {
      throw noAnswer("The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".");
    }
  }

  private SymbolonException noAnswer(String seen) {
    return new SymbolonException(
        Reason.NO_ANSWER,
        "Nobody answered at " + address + ":" + port + ".",
        seen,
        "Check the name and the port, and that the server runs.");
  }

  private ProbeReport handshake(Socket socket, String reached, Observer observer)
      throws IOException {
    var context = TlsContexts.observing(observer.keys(), observer.trust());
    SSLSocket tls =
        (SSLSocket) context.getSocketFactory().createSocket(socket, host.toString(), port, true);
    if (!host.isAddress()) {
      SSLParameters parameters = tls.getSSLParameters();
      parameters.setServerNames(List.of(new SNIHostName(host.toString())));
      tls.setSSLParameters(parameters);
    }
    tls.setSoTimeout((int) limit.toMillis());
    // A peer that sends an octet now and then never runs into a read's limit: this ends it anyway.
    CompletableFuture<Void> alarm =
        CompletableFuture.runAsync(
            () -> closeQuietly(socket),
            CompletableFuture.delayedExecutor(
                limit.toMillis() + limit.toMillis() / 2, TimeUnit.MILLISECONDS));
    List<Finding> findings = new ArrayList<>();
    Optional<SSLSession> session = Optional.empty();
    try {
      tls.startHandshake();
      session = Optional.of(tls.getSession());
      if (observer.clientCertificateAsked()) {
        findings.addAll(clientCertificate(tls, reached, observer));
      }
    } catch (SocketTimeoutException e) {
      if (observer.chain().isEmpty()) {
        throw noAnswer(
            "Something accepts the connection but says nothing within "
                + limit.toSeconds()
                + " seconds of TLS.");
      }
      findings.add(HandshakeFailure.explain(e, reached, observer.clientCertificateAsked()));
    } catch (IOException e) {
      Finding explained = HandshakeFailure.explain(e, reached, observer.clientCertificateAsked());
      boolean aboutClient =
          (observer.clientCertificateShown() && e instanceof SSLException)
              || explained.id().equals("client-certificate-required");
      findings.addAll(
          aboutClient ? refused(reached, "it said: " + text(e), observer) : List.of(explained));
    } finally {
      alarm.cancel(true);
      closeQuietly(tls);
    }
    return new ProbeJudge(host, trust, expected, clock.instant())
        .report(reached, session, observer, findings);
  }

  /**
   * TLS 1.3 servers refuse a certificate, or its absence, only after the handshake: the alert comes
   * late.
   */
  private List<Finding> clientCertificate(SSLSocket tls, String where, Observer observer)
      throws IOException {
    try {
      tls.setSoTimeout((int) LATE_ALERT.toMillis());
      if (tls.getInputStream().read() < 0) {
        return refused(where, "it closed the connection", observer);
      }
    } catch (SocketTimeoutException e) {
      LOG.trace("no alert within {}", LATE_ALERT);
    } catch (SSLException e) {
      return refused(where, "it said: " + text(e), observer);
    }
    return List.of(
        observer.clientCertificateShown()
            ? Finding.note(
                "client-certificate-accepted",
                where,
                "The server asked for a client's certificate (mutual TLS) and took the one shown.",
                "")
            : Finding.note(
                "client-certificate-asked",
                where,
                "The server asks for a client's certificate (mutual TLS) and goes on without one.",
                ""));
  }

  /** The server wanted a certificate and did not get one that it takes. */
  private List<Finding> refused(String where, String seen, Observer observer) {
    if (credential.isEmpty()) {
      return List.of(clientCertificateRequired(where, seen));
    }
    Certificate own = credential.get().certificate();
    String named =
        observer.authoritiesNamed().isEmpty()
            ? "no authority in particular"
            : VisibleText.of(
                String.join(
                    "; ", observer.authoritiesNamed().stream().limit(NAMED_SHOWN).toList()));
    if (!observer.clientCertificateShown()) {
      return List.of(
          Finding.problem(
              "client-authority-not-named",
              where,
              "The server asks for certificates of "
                  + named
                  + "; that of "
                  + own.subject().shortText()
                  + " is issued by "
                  + own.issuer()
                  + ", so none was shown.",
              "Add the client's authority to the server's truststore, or have the client's"
                  + " certificate issued by one of those."));
    }
    List<Finding> findings = new ArrayList<>();
    findings.add(
        Finding.problem(
            "client-certificate-refused",
            where,
            "The server refuses the certificate of "
                + own.subject().shortText()
                + "; "
                + seen
                + ". It asks for certificates of "
                + named
                + ".",
            "Rehearse it with the server's files: symbolon rehearse --server FILES --server-trust"
                + " FILES --client FILES."));
    new ChainExplainer(Side.CLIENT, clock.instant(), where)
        .all(credential.get().chain(), Optional.empty(), Optional.empty()).stream()
            .filter(finding -> finding.level() == io.symbolon.Level.PROBLEM)
            .forEach(findings::add);
    return findings;
  }

  private static String text(IOException e) {
    return VisibleText.of(String.valueOf(e.getMessage()));
  }

  static Finding clientCertificateRequired(String where, String seen) {
    return Finding.problem(
        "client-certificate-required",
        where,
        "The server requires a client's certificate (mutual TLS); " + seen + ".",
        "Clients need a credential from an authority the server trusts.");
  }

  private static void closeQuietly(Socket socket) {
    try {
      socket.close();
    } catch (IOException e) {
      LOG.trace("closing failed", e);
    }
  }
}
