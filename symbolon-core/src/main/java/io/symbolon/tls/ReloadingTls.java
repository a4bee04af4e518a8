// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.FailureMessages;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javax.net.ssl.SSLContext;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A context whose credential and trust are replaced while connections run: on call, or when its
 * files change. Connections that exist go on as they are, handshakes under way end as they began,
 * and every new one uses the new files; a session that was agreed on under the old trust is not
 * resumed. New files that are broken, half-written, expired or of no use are refused with a report,
 * and the old ones stay. Thread-safe.
 */
public final class ReloadingTls {
  private static final Logger LOG = LoggerFactory.getLogger(ReloadingTls.class);

  private final Supplier<TlsSetup> source;
  private final Optional<Supplier<String>> look;
  private final Clock clock;
  private final SSLContext context;
  private volatile LoadedSetup current;
  private volatile String loaded; // how the files looked just before they were read

  private ReloadingTls(Supplier<TlsSetup> source, Optional<Supplier<String>> look, Clock clock) {
    this.source = source;
    this.look = look;
    this.clock = clock;
    this.loaded = look.map(Supplier::get).orElse("");
    this.current = source.get().generation();
    this.context = SetupContext.current(() -> current);
  }

  /**
   * {@return a context from files}
   *
   * @throws SymbolonException if they can't be used now
   */
  public static ReloadingTls of(TlsFiles files) {
    return new ReloadingTls(files::load, Optional.of(files::look), Clock.systemUTC());
  }

  /**
   * {@return a context from anything that gives a setup, such as a vault}
   *
   * @param source asked at once and at every {@link #reload()}; it may throw a {@link
   *     SymbolonException}
   */
  public static ReloadingTls of(Supplier<TlsSetup> source) {
    return new ReloadingTls(source, Optional.empty(), Clock.systemUTC());
  }

  /** {@return the context; the same one for ever} */
  public SSLContext context() {
    return context;
  }

  /** {@return the setup that new connections use} */
  public TlsSetup setup() {
    return current.setup();
  }

  /**
   * Reads the files again and uses them if nothing is wrong. Does not throw: the report tells.
   *
   * @return the reload report
   */
  public synchronized ReloadReport reload() {
    Instant now = clock.instant();
    TlsSetup next;
    try {
      loaded = look.map(Supplier::get).orElse("");
      next = source.get();
    } catch (SymbolonException e) {
      LOG.debug("the new files can't be used", e);
      return refused(now, e.statement() + " " + e.seen(), e.remedy());
    } catch (RuntimeException e) { // a supplier of the program's own can throw anything
      LOG.warn("the supplier of the new setup failed", e);
      return refused(
          now,
          "The new setup can't be used. Its supplier failed: " + FailureMessages.of(e) + ".",
          Remedy.of("Mend the program that supplies the setup."));
    }
    try {
      return replace(next, now);
    } catch (SymbolonException e) {
      return refused(now, e.statement() + " " + e.seen(), e.remedy());
    }
  }

  private static ReloadReport refused(Instant now, String statement, Remedy remedy) {
    return report(
        ReloadReport.Outcome.REFUSED,
        now,
        List.of(Finding.of(FindingKind.NOT_RELOADED, "", statement, remedy)));
  }

  private ReloadReport replace(TlsSetup next, Instant now) {
    Successor successor = new Successor(current.setup(), next, now);
    if (successor.isSame()) {
      return new ReloadReport(ReloadReport.Outcome.UNCHANGED, now, List.of());
    }
    List<Finding> findings =
        successor.findings().stream().sorted(Comparator.comparing(Finding::level)).toList();
    if (Finding.anyProblem(findings)) {
      return report(ReloadReport.Outcome.REFUSED, now, findings);
    }
    current = next.generation();
    return report(ReloadReport.Outcome.REPLACED, now, findings);
  }

  private static ReloadReport report(
      ReloadReport.Outcome outcome, Instant now, List<Finding> findings) {
    if (outcome == ReloadReport.Outcome.REFUSED) {
      findings.stream()
          .filter(finding -> finding.level() == Level.PROBLEM)
          .forEach(f -> LOG.warn("not reloaded: {} {}", f.statement(), f.remedy()));
    } else {
      LOG.info("reloaded; new connections use the new credential and trust");
    }
    return new ReloadReport(outcome, now, findings);
  }

  /**
   * Looks at the files again and again, and reloads them when they have changed and then stayed as
   * they are from one look to the next. A file that is refused is tried again when it changes. What
   * is not made from files is asked for anew every time.
   *
   * @param every how long from one look to the next
   * @param reports told of every attempt that changed something or was refused; what it throws is
   *     logged
   * @return closed, nobody looks any more
   */
  public Watch watch(Duration every, Consumer<ReloadReport> reports) {
    return new Watch(every, reports);
  }

  /** Somebody who looks at the files. */
  public final class Watch implements AutoCloseable {
    private final ScheduledExecutorService timer =
        Executors.newSingleThreadScheduledExecutor(
            task -> {
              Thread thread = new Thread(task, "symbolon-watch");
              thread.setDaemon(true);
              return thread;
            });
    private final Consumer<ReloadReport> reports;
    private String seen = loaded;

    private Watch(Duration every, Consumer<ReloadReport> reports) {
      this.reports = reports;
      var unused =
          timer.scheduleWithFixedDelay(
              this::once, every.toMillis(), every.toMillis(), TimeUnit.MILLISECONDS);
    }

    private void once() {
      try {
        if (look.isEmpty() || hasSettled(look.get().get())) {
          ReloadReport report = reload();
          if (report.outcome() != ReloadReport.Outcome.UNCHANGED) {
            reports.accept(report);
          }
        }
      } catch (RuntimeException e) {
        LOG.error("the watch over the files met a defect and goes on", e);
      }
    }

    private boolean hasSettled(String now) {
      boolean settled = now.equals(seen);
      seen = now;
      return settled && !now.equals(loaded);
    }

    @Override
    public void close() {
      timer.shutdownNow();
    }
  }
}
