// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.request;

import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.StoreEdit;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.format.Ability;
import io.symbolon.key.KeyForm;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Input;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.x509.CertificateRequest;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A request that was written.
 *
 * @param keyFile where a new key was written
 * @param notices what is to be said of the places that passwords came from
 */
public record RequestResult(
    CertificateRequest request, Optional<WrittenResult> keyFile, List<Finding> notices) {
  /** Writes the key and the request: both, or neither. */
  static RequestResult write(TaskRun run, RequestJob job, RequestPlan plan) {
    List<Path> files = new ArrayList<>(List.of(plan.into().path()));
    plan.keyInto().ifPresent(key -> files.add(key.path()));
    return job.result().holding(files, () -> writeAlone(run, job, plan));
  }

  private static RequestResult writeAlone(TaskRun run, RequestJob job, RequestPlan plan) {
    Existing existing = job.result().existing();
    plan.into().check(existing);
    CertificateRequest request = plan.waiting().request();
    FileItem item =
        new FileItem(
            plan.into().path(),
            plan.into().target().can(Ability.TEXT) ? pem(request) : request.encoding(),
            Privacy.SYSTEM_DEFAULT,
            existing);
    if (plan.keyInto().isEmpty()) {
      SafeFile.write(item.target(), item.content(), item.privacy(), existing);
      return new RequestResult(request, Optional.empty(), run.notices());
    }
    Destination keyInto = plan.keyInto().get();
    if (keyInto
        .path()
        .toAbsolutePath()
        .normalize()
        .equals(plan.into().path().toAbsolutePath().normalize())) {
      throw new WrongJob(
          "The key and the request can't go to the same file.",
          "Name different files with "
              + Input.INTO.mention()
              + " and "
              + Input.KEY_INTO.mention()
              + ".");
    }
    WrittenResult written =
        keyInto.target().isStore() && Files.exists(keyInto.path())
            ? added(run, job, plan, keyInto, item)
            : alone(run, job, plan, keyInto, item, existing);
    return new RequestResult(request, Optional.of(written), run.notices());
  }

  /** {@return a request in PEM} */
  public static byte[] pem(CertificateRequest request) {
    return PemWriter.write("CERTIFICATE REQUEST", request.encoding());
  }

  private static StoreEntry.KeyEntry entry(TaskRun run, RequestPlan plan, boolean store) {
    return plan.waiting().entry(run.around().clock().instant(), store);
  }

  private static WrittenResult alone(
      TaskRun run,
      RequestJob job,
      RequestPlan plan,
      Destination keyInto,
      FileItem request,
      Existing existing) {
    keyInto.checkPrivate(existing);
    Conversion conversion =
        Conversion.of(
            Bundle.of(List.of(entry(run, plan, keyInto.target().isStore()))),
            keyInto.target(),
            job.result().keyForm(),
            keyInto.shown());
    return WrittenResult.write(
        run,
        keyInto,
        conversion,
        existing,
        OutputProtection.of(run, job.result(), keyInto, true),
        List.of(request));
  }

  /** Into a keystore that is there, where everything else stays as it is. */
  private static WrittenResult added(
      TaskRun run, RequestJob job, RequestPlan plan, Destination keyInto, FileItem request) {
    if (!job.result().replaces()) {
      keyInto.check(Existing.KEEP); // says that it exists
    }
    if (job.result().keyForm() != KeyForm.PKCS8) {
      throw new WrongJob(
          "A keystore holds its keys as PKCS#8.", "Leave " + Input.KEY_FORM.mention() + " out.");
    }
    try {
      StoreEdit edit = StoreEdit.open(keyInto.path(), run.surveyor(run.unlock(job.unlock())));
      Destination inPlace =
          new Destination(keyInto.path(), edit.target(), false)
              .ownedBy(job.result().owner())
              .expecting(edit.snapshot());
      return WrittenResult.write(
          run,
          inPlace,
          edit.with(entry(run, plan, true)),
          Existing.REPLACE,
          OutputProtection.of(run, job.result(), inPlace, edit),
          List.of(request));
    } catch (SymbolonException e) {
      throw e.restated("The key was not put into " + keyInto.shown() + ".");
    }
  }
}
