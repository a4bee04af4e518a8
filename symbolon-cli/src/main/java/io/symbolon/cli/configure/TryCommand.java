// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.FindingsSection;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.configure.ServerTrial;
import io.symbolon.configure.TrialMaterial;
import io.symbolon.configure.TrialStep;
import io.symbolon.finding.Level;
import io.symbolon.server.ClientTrust;
import io.symbolon.server.Installation;
import io.symbolon.server.Machine;
import io.symbolon.server.Mode;
import io.symbolon.server.Server;
import io.symbolon.server.Wish;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;

/** {@code symbolon configure --try}: every mode in a copy, one on top of the other. */
final class TryCommand {
  private TryCommand() {}

  static int run(Invocation invocation, Machine machine, Server server, ConfigureJob job) {
    Installation there = ConfigureCommand.installation(machine, server, job);
    TrialMaterial made = TrialMaterial.madeUp(Instant.now(invocation.session().clock()));
    boolean own = !job.isReading();
    Optional<WishedFiles> files =
        own ? Optional.of(new WishedFiles(invocation, job)) : Optional.empty();
    Wish base = files.map(WishedFiles::wish).orElseGet(() -> wish(made, job));
    ClientTrust trust = base.trust().orElse(made.trust());
    List<Certificate> roots = new ArrayList<>(List.of(made.root()));
    files.ifPresent(named -> named.clients().forEach(one -> one.trust().ifPresent(roots::addAll)));
    Surveyor surveyor = invocation.surveyor(invocation.unlock(job.unlock())).withKnownRoots(roots);
    Collection<Mode> modes = job.mode().<Collection<Mode>>map(EnumSet::of).orElseGet(server::modes);
    List<TrialStep> steps =
        ServerTrial.run(
            server, machine, there, base, trust, modes, surveyor, invocation.session().clock());
    boolean good = steps.stream().allMatch(TrialStep::isGood);
    if (invocation.output().isJson()) {
      invocation.output().json(ConfigureDocument.ofTrial(steps, invocation.output().commands()));
    } else {
      print(invocation.output(), server, there, steps, own, good);
    }
    return good ? ExitCode.DONE : ExitCode.PROBLEM;
  }

  private static Wish wish(TrialMaterial made, ConfigureJob job) {
    Wish wish =
        Wish.of(made.credential().withoutRoot())
            .withHosts(job.hosts().isEmpty() ? List.of(made.host()) : job.hosts())
            .withProtocols(job.protocols());
    wish = job.port().isPresent() ? wish.withPort(job.port().get()) : wish;
    wish = job.site().isPresent() ? wish.withSite(job.site().get()) : wish;
    wish = job.place().isPresent() ? wish.withFolder(job.place().get()) : wish;
    wish = job.form().isPresent() ? wish.withForm(job.form().get()) : wish;
    return job.ciphers().isPresent() ? wish.withCiphers(job.ciphers().get()) : wish;
  }

  private static void print(
      Output output,
      Server server,
      Installation there,
      List<TrialStep> steps,
      boolean own,
      boolean good) {
    Paint paint = output.paint();
    output.line(
        paint.heading(server.title())
            + paint.faint("  " + Output.shown(there.main()))
            + "  "
            + (good
                ? paint.good("tried in a copy; nothing was written")
                : paint.level(Level.PROBLEM, "tried in a copy; it does not do what is wanted")));
    if (!own) {
      output.line(paint.faint("  with a key and authorities that were made up for this"));
    }
    int number = 0;
    for (TrialStep step : steps) {
      output.line("");
      output.line(
          paint.heading(++number + ". " + step.what())
              + "  "
              + (step.isGood()
                  ? paint.good("read back as it was wanted; a second time changes nothing")
                  : paint.level(Level.PROBLEM, "not as it was wanted")));
      new ChangedFiles(output).print(step.changes(), List.of(), false);
      if (step.changes().isEmpty() && step.isGood()) {
        output.line("  " + paint.faint("nothing to change"));
      }
      new FindingsSection(output).print(step.problems());
    }
  }
}
