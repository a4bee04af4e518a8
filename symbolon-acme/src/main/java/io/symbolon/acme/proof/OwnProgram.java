// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.acme.protocol.Identifier;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.program.ProgramStart;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;

/**
 * A program of the administrator's that shows what is wanted, and takes it away. It is called
 * without arguments, and told in its environment what to do:
 *
 * <ul>
 *   <li>{@code SYMBOLON_DO}: {@code show} or {@code take-away}; it returns when that is done
 *   <li>{@code SYMBOLON_HOST}: the host
 *   <li>{@code SYMBOLON_PROOF}: {@code dns-01} or {@code http-01}, as it was set up for
 *   <li>{@code SYMBOLON_NAME}: the name of the TXT record, or the path of the file in the URL
 *   <li>{@code SYMBOLON_VALUE}: the text of the record or the content of the file
 * </ul>
 */
public final class OwnProgram implements Proof {
  private static final int OUTPUT = 4_000;
  private static final long A_MOMENT = 2;

  private final Path program;
  private final String type;
  private final Duration limit;

  /**
   * A program.
   *
   * @param type what it shows: {@code dns-01} or {@code http-01}
   * @param limit how long it may take
   */
  public OwnProgram(Path program, String type, Duration limit) {
    this.program = program.toAbsolutePath().normalize();
    this.type = type;
    this.limit = limit;
  }

  @Override
  public String type() {
    return type;
  }

  @Override
  public String title() {
    return (type.equals(DnsRecord.TYPE) ? "a DNS record" : "a file over HTTP")
        + ", by the program "
        + program;
  }

  @Override
  public boolean suits(Identifier name, boolean wildcard) {
    return type.equals(DnsRecord.TYPE) ? name.type().equals(Identifier.DNS) : !wildcard;
  }

  @Override
  public Shown show(Task task) {
    try {
      run(task, "show");
    } catch (SymbolonException e) {
      quietly(task); // it may have shown a part of it
      throw e;
    }
    return () -> run(task, "take-away");
  }

  private void quietly(Task task) {
    try {
      run(task, "take-away");
    } catch (SymbolonException e) {
      // the first failure is what is told
    }
  }

  private void run(Task task, String what) {
    boolean dns = type.equals(DnsRecord.TYPE);
    Map<String, String> environment = new HashMap<>();
    environment.put("SYMBOLON_DO", what);
    environment.put("SYMBOLON_HOST", task.name().value());
    environment.put("SYMBOLON_PROOF", type);
    environment.put(
        "SYMBOLON_NAME", dns ? DnsRecord.nameOf(task.name()) : HttpListener.FOLDER + task.token());
    environment.put(
        "SYMBOLON_VALUE", dns ? DnsRecord.valueOf(task.authorization()) : task.authorization());
    try {
      Process process =
          ProgramStart.of(List.of(program.toString()))
              .with(environment)
              .builder()
              .redirectErrorStream(true)
              .start();
      process.getOutputStream().close();
      CompletableFuture<String> output =
          CompletableFuture.supplyAsync(() -> printed(process.getInputStream()));
      if (!process.waitFor(limit.toMillis(), TimeUnit.MILLISECONDS)) {
        process.descendants().forEach(ProcessHandle::destroyForcibly);
        process.destroyForcibly();
        throw failed(task, what, "did not end within " + limit.toSeconds() + " seconds", "");
      }
      if (process.exitValue() != 0) {
        String text = output.completeOnTimeout("", A_MOMENT, TimeUnit.SECONDS).join();
        throw failed(task, what, "ended with " + process.exitValue(), text);
      }
    } catch (IOException e) {
      throw failed(task, what, "could not be started", String.valueOf(e.getMessage()));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw failed(task, what, "was interrupted", "");
    }
  }

  private static String printed(InputStream in) {
    try (in) {
      String text = new String(in.readNBytes(OUTPUT), StandardCharsets.UTF_8).strip();
      in.transferTo(java.io.OutputStream.nullOutputStream());
      return text;
    } catch (IOException e) {
      return "";
    }
  }

  private SymbolonException failed(Task task, String what, String how, String printed) {
    return ProofFailure.of(
        task,
        Reason.NOT_WRITABLE,
        "The program "
            + VisibleText.of(program.toString())
            + " "
            + how
            + (what.equals("show") ? "" : " when it should take away what it had shown")
            + "."
            + (printed.isEmpty() ? "" : " It printed: " + VisibleText.of(printed)),
        "Run it by hand with SYMBOLON_DO="
            + what
            + " SYMBOLON_HOST="
            + VisibleText.of(task.name().value())
            + " and see what it does.",
        null);
  }
}
