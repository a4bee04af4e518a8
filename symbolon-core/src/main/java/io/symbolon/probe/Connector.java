// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.NoRouteToHostException;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.time.Duration;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Finds the addresses of a server, connects to them, and begins in clear text where it has to. */
final class Connector {
  private static final Logger LOG = LoggerFactory.getLogger(Connector.class);

  private final String name;
  private final int port;
  private final Duration limit;
  private final Optional<StartWith> startWith;
  private final Names names;

  /** The machine's name service, or another. */
  interface Names {
    InetAddress[] of(String name) throws UnknownHostException;
  }

  Connector(String name, int port, Duration limit, Optional<StartWith> startWith, Names names) {
    this.name = name;
    this.port = port;
    this.limit = limit;
    this.startWith = startWith;
    this.names = names;
  }

  /**
   * One address of the server, and whether somebody answered there.
   *
   * @param socket the connection, where somebody did
   * @param failure why nobody did
   */
  record Reached(InetAddress address, Optional<Socket> socket, Optional<String> failure) {
    String ip() {
      return address.getHostAddress();
    }
  }

  /** The server's name with the port, and the address where that is another. */
  String title(InetAddress address) {
    String ip = address.getHostAddress();
    String bracketed = name.contains(":") ? "[" + name + "]" : name;
    return name.equals(ip) ? bracketed + ":" + port : bracketed + ":" + port + " (" + ip + ")";
  }

  /**
   * All addresses of the server.
   *
   * @throws SymbolonException with {@link Reason#NO_ANSWER} if there are none
   */
  List<InetAddress> addresses() {
    try {
      return List.copyOf(new LinkedHashSet<>(List.of(names.of(name))));
    } catch (UnknownHostException e) {
      throw noAnswer("The name " + name + " is not known to this machine's name service.");
    }
  }

  /** Connects to one address. */
  Reached reach(InetAddress address) {
    try {
      return new Reached(address, Optional.of(open(address)), Optional.empty());
    } catch (IOException e) {
      return new Reached(address, Optional.empty(), Optional.of(why(e)));
    }
  }

  private String why(IOException e) {
    String said = VisibleText.of(String.valueOf(e.getMessage()));
    if (e instanceof SocketTimeoutException) {
      return "Nothing came back within " + limit.toSeconds() + " seconds; a firewall may drop it.";
    }
    if (e instanceof ConnectException && said.contains("refused")) {
      return "The machine refuses the connection: nothing listens on port " + port + ".";
    }
    return e instanceof ConnectException || e instanceof NoRouteToHostException
        ? "There is no way to it: " + said + "."
        : "The system says: " + said + ".";
  }

  SymbolonException noAnswer(String seen) {
    return new SymbolonException(
        Reason.NO_ANSWER,
        "Nobody answered at " + name + ":" + port + ".",
        seen,
        "Check the name and the port, and that the server runs.");
  }

  /** A new connection, whose reads end at the time limit. */
  Socket open(InetAddress address) throws IOException {
    Socket socket = new Socket();
    try {
      socket.connect(new InetSocketAddress(address, port), (int) limit.toMillis());
      socket.setSoTimeout((int) limit.toMillis());
      socket.setTcpNoDelay(true);
      return socket;
    } catch (IOException e) {
      socket.close();
      throw e;
    }
  }

  /** Whether there is a part in clear text before TLS. */
  boolean startsInClearText() {
    return startWith.isPresent();
  }

  /** Whether it may be a web server: nothing says that it is another service. */
  boolean mayBeWeb() {
    return startWith.isEmpty()
        && ServiceQuestion.ofPort(port).filter(one -> one != ServiceQuestion.HTTP).isEmpty();
  }

  /** What can be asked of this service inside TLS, where that is known. */
  Optional<ServiceQuestion> question() {
    return startWith.isPresent()
        ? ServiceQuestion.of(startWith.get())
        : ServiceQuestion.ofPort(port);
  }

  /** Whether it is a database that looks at certificates only at the login to an account. */
  boolean isDatabaseByAccount() {
    return startWith.filter(one -> one == StartWith.MYSQL).isPresent();
  }

  /** How long each answer may take. */
  Duration limit() {
    return limit;
  }

  /**
   * The part in clear text, up to where TLS begins.
   *
   * @throws SwitchRefusedException if the server does not switch to TLS
   */
  void begin(Socket socket) throws IOException {
    if (startWith.isPresent()) {
      startWith.get().begin(socket);
    }
  }

  /**
   * A peer that sends an octet now and then never runs into a read's limit: this ends it anyway,
   * after one and a half times the limit.
   */
  Alarm alarm(Socket socket) {
    return new Alarm(socket, limit.toMillis() + limit.toMillis() / 2);
  }

  /** Closes a socket when the time is over, unless it is closed itself before. */
  static final class Alarm implements AutoCloseable {
    private final AtomicBoolean rung = new AtomicBoolean();
    private final CompletableFuture<Void> timer;

    private Alarm(Socket socket, long millis) {
      timer =
          CompletableFuture.runAsync(
              () -> {
                rung.set(true);
                closeQuietly(socket);
              },
              CompletableFuture.delayedExecutor(millis, TimeUnit.MILLISECONDS));
    }

    /** Whether it had to end the connection. */
    boolean hasRung() {
      return rung.get();
    }

    @Override
    public void close() {
      timer.cancel(true);
    }
  }

  static void closeQuietly(Socket socket) {
    try {
      socket.close();
    } catch (IOException e) {
      LOG.trace("closing failed", e);
    }
  }
}
