// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.wire.Daemons;
import io.symbolon.chain.Credential;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLContext;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The certificate that the authority shows over HTTPS: issued by itself, on record like all others,
 * and renewed while it runs with half of its life left.
 */
final class ServerCertificate implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(ServerCertificate.class);
  private static final Lifetime LASTS = Lifetime.days(90);
  private static final Duration BEFORE = Duration.ofDays(45);

  private final ReloadingTls tls;
  private final ScheduledExecutorService watch;

  private ServerCertificate(ReloadingTls tls, ScheduledExecutorService watch) {
    this.tls = tls;
    this.watch = watch;
  }

  static ServerCertificate of(SigningAuthority signing, HostName host, Clock clock) {
    ReloadingTls tls = ReloadingTls.of(() -> TlsSetup.server(issued(signing, host).withoutRoot()));
    ScheduledExecutorService watch =
        Executors.newSingleThreadScheduledExecutor(Daemons.named("symbolon-renews-itself"));
    var unused = watch.scheduleWithFixedDelay(() -> renew(tls, clock), 1, 1, TimeUnit.HOURS);
    return new ServerCertificate(tls, watch);
  }

  private static void renew(ReloadingTls tls, Clock clock) {
    try {
      Credential shown = tls.setup().credentials().get(0);
      if (clock.instant().isAfter(shown.certificate().notAfter().minus(BEFORE))) {
        var unused = tls.reload();
      }
    } catch (RuntimeException e) {
      LOG.warn("the authority's own certificate was not renewed; it is tried again", e);
    }
  }

  private static Credential issued(SigningAuthority signing, HostName host) {
    DistinguishedName subject =
        host.isAddress() ? DistinguishedName.parse("") : DistinguishedName.parse("CN=" + host);
    RequestDraft draft =
        new RequestDraft(subject, List.of(GeneralName.ofHost(host.toString())), Use.SERVER);
    return signing.issue(new SigningOrder(draft, LASTS), KeyKind.EC_P256);
  }

  SSLContext context() {
    return tls.context();
  }

  @Override
  public void close() {
    watch.shutdownNow();
  }
}
