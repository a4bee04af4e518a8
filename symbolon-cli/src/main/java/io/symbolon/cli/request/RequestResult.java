// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.request;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.write.OutputProtection;
import io.symbolon.cli.write.WrittenResult;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.StoreEdit;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.format.Ability;
import io.symbolon.key.KeyForm;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.CertificateRequest;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A request that was written.
 *
 * @param request the request
 * @param keyFile where a new key was written
 * @param notices what is to be said of the places that passwords came from
 */
record RequestResult(
    CertificateRequest request, Optional<WrittenResult> keyFile, List<Finding> notices) {
  /** Writes the key and the request: both, or neither. */
  static RequestResult write(Invocation invocation, RequestJob job, RequestPlan plan) {
    List<Path> files = new ArrayList<>(List.of(plan.into().path()));
    plan.keyInto().ifPresent(key -> files.add(key.path()));
    return invocation.holding(files, job.result(), () -> writeAlone(invocation, job, plan));
  }

  private static RequestResult writeAlone(Invocation invocation, RequestJob job, RequestPlan plan) {
    Existing existing = job.result().existing();
    plan.into().check(existing);
    CertificateRequest request = plan.waiting().request();
    FileSet.Item item =
        new FileSet.Item(
            plan.into().path(),
            plan.into().target().can(Ability.TEXT) ? pem(request) : request.encoding(),
            Privacy.SYSTEM_DEFAULT,
            existing);
    if (plan.keyInto().isEmpty()) {
      SafeFile.write(item.target(), item.content(), item.privacy(), existing);
      return new RequestResult(request, Optional.empty(), invocation.notices());
    }
    Destination keyInto = plan.keyInto().get();
    if (keyInto
        .path()
        .toAbsolutePath()
        .normalize()
        .equals(plan.into().path().toAbsolutePath().normalize())) {
      throw Usage.wrong(
          "The key and the request can't go to the same file.",
          "Name different files with --into and --key-into.");
    }
    WrittenResult written =
        keyInto.target().isStore() && Files.exists(keyInto.path())
            ? added(invocation, job, plan, keyInto, item)
            : alone(invocation, job, plan, keyInto, item, existing);
    return new RequestResult(request, Optional.of(written), invocation.notices());
  }

  static byte[] pem(CertificateRequest request) {
    return PemWriter.write("CERTIFICATE REQUEST", request.encoding());
  }

  private static StoreEntry.KeyEntry entry(Invocation invocation, RequestPlan plan, boolean store) {
    return plan.waiting().entry(invocation.session().clock().instant(), store);
  }

  private static WrittenResult alone(
      Invocation invocation,
      RequestJob job,
      RequestPlan plan,
      Destination keyInto,
      FileSet.Item request,
      Existing existing) {
    keyInto.checkPrivate(existing);
    Conversion conversion =
        Conversion.of(
            Bundle.of(List.of(entry(invocation, plan, keyInto.target().isStore()))),
            keyInto.target(),
            job.result().keyForm(),
            keyInto.shown());
    return WrittenResult.write(
        invocation,
        keyInto,
        conversion,
        existing,
        OutputProtection.of(invocation, job.result(), keyInto, true),
        List.of(request));
  }

  /** Into a keystore that is there, where everything else stays as it is. */
  private static WrittenResult added(
      Invocation invocation,
      RequestJob job,
      RequestPlan plan,
      Destination keyInto,
      FileSet.Item request) {
    if (!job.result().replaces()) {
      keyInto.check(Existing.KEEP); // says that it exists
    }
    if (job.result().keyForm() != KeyForm.PKCS8) {
      throw Usage.wrong("A keystore holds its keys as PKCS#8.", "Leave --key-as out.");
    }
    try {
      StoreEdit edit =
          StoreEdit.open(keyInto.path(), invocation.surveyor(invocation.unlock(job.unlock())));
      Destination inPlace =
          new Destination(keyInto.path(), edit.target(), false)
              .ownedBy(job.result().owner())
              .expecting(edit.snapshot());
      return WrittenResult.write(
          invocation,
          inPlace,
          edit.with(entry(invocation, plan, true)),
          Existing.REPLACE,
          OutputProtection.of(invocation, job.result(), inPlace, edit),
          List.of(request));
    } catch (SymbolonException e) {
      throw e.restated("The key was not put into " + keyInto.shown() + ".");
    }
  }
}
