// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static io.symbolon.acme.ServedAuthority.hosts;
import static io.symbolon.acme.ServedAuthority.pair;
import static io.symbolon.acme.ServedAuthority.request;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.acme.answer.AnswerPlan.RequestLimits;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Strangers who ask for much, or for nothing for a long time, keep nobody out. */
class FloodTest {
  private static final String INGEST = ServedAuthority.HOSTS.get(0);

  @TempDir Path temp;

  private static List<Certificate> obtain(ServedAuthority served, RemoteAccount account) {
    Order order = account.order(hosts(INGEST));
    return new Ordering(account, List.of(served.http()), Ordering.Progress.SILENT)
        .obtain(order, request(pair(), INGEST));
  }

  /** The first octets of a handshake, and nothing behind them; or a whole hello and no more. */
  private static Socket halfOpen(int port, boolean hello) throws IOException {
    Socket socket = new Socket();
    socket.bind(new InetSocketAddress(InetAddress.getByName("127.0.0.2"), 0));
    socket.connect(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 5_000);
    byte[] some = {22, 3, 1, 2, 0};
    byte[] whole = new byte[5 + 4];
    System.arraycopy(new byte[] {22, 3, 1, 0, 4, 1, 0, 0, 100}, 0, whole, 0, 9);
    socket.getOutputStream().write(hello ? whole : some);
    socket.getOutputStream().flush();
    return socket;
  }

  @Test
  void aThousandHandshakesThatStopInTheMiddleKeepNobodyOut() throws Exception {
    List<Socket> sockets = new ArrayList<>();
    try (ServedAuthority served = ServedAuthority.in(temp)) {
      int port = served.server.address().getPort();
      for (int i = 0; i < 1_000; i++) {
        try {
          sockets.add(halfOpen(port, i % 2 == 0));
        } catch (IOException e) {
          // refused: it has its share already
        }
      }
      assertEquals(2, obtain(served, served.account()).size());
      assertEquals(2, obtain(served, served.account()).size());
    } finally {
      for (Socket socket : sockets) {
        socket.close();
      }
    }
  }

  @Test
  void oneAddressMakesItsShareOfAccountsAndIsToldWhenToComeAgain() {
    try (ServedAuthority served =
        ServedAuthority.in(
            temp, plan -> plan.withLimits(new RequestLimits(300, 2, 1000, 3, 1000)))) {
      RemoteAccount first = served.account();
      served.account();
      served.account();
      RefusedException e = assertThrows(RefusedException.class, served::account);
      assertTrue(e.again().isPresent(), "it says when to come again");
      assertEquals(2, obtain(served, first).size(), "who has an account goes on");
      first.order(hosts(INGEST));
      assertThrows(RefusedException.class, () -> first.order(hosts(INGEST)));
    }
  }

  /** Takes connections and says nothing, for ever. */
  private static final class SlowHost implements AutoCloseable {
    private final ServerSocket socket;
    private final List<Socket> taken = new ArrayList<>();

    SlowHost(int port) throws IOException {
      socket = new ServerSocket(port, 500, InetAddress.getLoopbackAddress());
      Thread thread = new Thread(this::run, "a slow host");
      thread.setDaemon(true);
      thread.start();
    }

    private void run() {
      try {
        while (!socket.isClosed()) {
          taken.add(socket.accept());
        }
      } catch (IOException e) {
        // the test is over
      }
    }

    @Override
    public void close() throws IOException {
      socket.close();
    }
  }

  @Test
  void hostsThatAnswerSlowlyDelayTheirOwnAccountAlone() throws Exception {
    try (ServedAuthority served = ServedAuthority.in(temp);
        SlowHost slow = new SlowHost(served.tlsPort)) {
      RemoteAccount attacker = served.account();
      for (int i = 0; i < 24; i++) {
        Order order = attacker.order(hosts(ServedAuthority.HOSTS.get(1)));
        Authorization authorization = attacker.authorization(order.authorizations().get(0));
        authorization.challenges().stream()
            .filter(one -> one.type().equals("tls-alpn-01"))
            .forEach(attacker::ready);
      }
      long begun = System.nanoTime();
      assertEquals(2, obtain(served, served.account()).size());
      long seconds = (System.nanoTime() - begun) / 1_000_000_000L;
      assertTrue(seconds < 60, "it took " + seconds + " seconds"); // 24 looks of 10 s, 3 times
      assertTrue(slow.taken.size() < 24, "one account and one host hold a share of the looks");
    }
  }
}
