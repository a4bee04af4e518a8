// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.io.ByteArrayOutputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpHeaders;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.ByteBuffer;
import java.nio.channels.UnresolvedAddressException;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Flow;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLException;

/**
 * HTTPS with an authority: one exchange at a time, each within a time limit for all of it, and with
 * answers of a bounded size. Redirects are not followed. Thread-safe.
 */
public final class Transport {
  /** How many octets an answer may have. */
  public static final int MOST = 1 << 20;

  private static final String MESSAGE = "application/jose+json";

  private final HttpClient client;
  private final Duration limit;

  /**
   * Exchanges within a limit.
   *
   * @param tls whom to trust
   * @param limit how long one exchange may take
   */
  public Transport(SSLContext tls, Duration limit) {
    this.limit = limit;
    this.client =
        HttpClient.newBuilder()
            .sslContext(tls)
            .connectTimeout(limit)
            .followRedirects(HttpClient.Redirect.NEVER)
            .build();
  }

  /**
   * An answer.
   *
   * @param url the address that was asked
   * @param body its content; not copied
   */
  @SuppressWarnings("ArrayRecordComponent") // an answer is never compared
  public record Answer(URI url, int status, HttpHeaders headers, byte[] body) {
    /** {@return whether it says that all is well} */
    public boolean isGood() {
      return status >= 200 && status < 300;
    }

    /** {@return the type of its content, without parameters, in lower case} */
    public String type() {
      String type = headers.firstValue("Content-Type").orElse("");
      int end = type.indexOf(';');
      return (end < 0 ? type : type.substring(0, end)).strip().toLowerCase(Locale.ROOT);
    }

    /**
     * {@return the targets of the links of a relation (RFC 8288)}
     *
     * @param most how many of them
     */
    public List<URI> links(String relation, int most) {
      return Links.of(url, headers.allValues("Link"), relation, most);
    }
  }

  /**
   * {@return what is answered}
   *
   * @param url the address
   */
  public Answer get(URI url) {
    return exchange(request(url).GET());
  }

  /**
   * {@return the headers of what is answered}
   *
   * @param url the address
   */
  public Answer head(URI url) {
    return exchange(request(url).method("HEAD", HttpRequest.BodyPublishers.noBody()));
  }

  /**
   * {@return what a message is answered with}
   *
   * @param url the address
   * @param message the signed message
   * @param accepted the type of content that is wanted; empty for any
   */
  public Answer post(URI url, String message, String accepted) {
    HttpRequest.Builder request =
        request(url)
            .header("Content-Type", MESSAGE)
            .POST(HttpRequest.BodyPublishers.ofString(message));
    if (!accepted.isEmpty()) {
      request.header("Accept", accepted);
    }
    return exchange(request);
  }

  private static HttpRequest.Builder request(URI url) {
    if (!"https".equalsIgnoreCase(url.getScheme())) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The authority was not asked.",
          "The address " + shown(url) + " does not begin with https://.",
          "The protocol is spoken over HTTPS alone (RFC 8555, 6.1). Ask for the right address.");
    }
    return HttpRequest.newBuilder(url)
        .header("User-Agent", "symbolon")
        .header("Accept-Language", "en");
  }

  private Answer exchange(HttpRequest.Builder builder) {
    HttpRequest request = builder.timeout(limit).build();
    CompletableFuture<HttpResponse<byte[]>> sent = client.sendAsync(request, info -> new Bounded());
    try {
      HttpResponse<byte[]> response = sent.get(limit.toMillis(), TimeUnit.MILLISECONDS);
      return new Answer(request.uri(), response.statusCode(), response.headers(), response.body());
    } catch (TimeoutException e) {
      sent.cancel(true);
      throw noAnswer(
          request.uri(), "The answer did not come within " + limit.toSeconds() + " seconds.", e);
    } catch (InterruptedException e) {
      sent.cancel(true);
      Thread.currentThread().interrupt();
      throw noAnswer(request.uri(), "The wait was interrupted.", e);
    } catch (ExecutionException e) {
      throw failed(request.uri(), e.getCause() == null ? e : e.getCause());
    }
  }

  private static SymbolonException failed(URI url, Throwable cause) {
    for (Throwable one = cause; one != null; one = one.getCause()) {
      if (one instanceof TooMuch) {
        return new SymbolonException(
            Reason.LIMIT_PASSED,
            "The answer of " + shown(url) + " was not read to its end.",
            "It has more than " + MOST + " octets.",
            "Is this the address of an authority's directory? Ask for the right one.",
            cause);
      }
      if (one instanceof SSLException) {
        return FailedTls.of(url, cause);
      }
      if (one instanceof ConnectException || one instanceof UnresolvedAddressException) {
        boolean unknown =
            one instanceof UnresolvedAddressException
                || one.getCause() instanceof UnresolvedAddressException;
        return noAnswer(
            url, unknown ? "The host has no address in the DNS." : "Nobody listens there.", cause);
      }
    }
    return noAnswer(url, "The connection failed: " + VisibleText.of(message(cause)), cause);
  }

  private static String message(Throwable one) {
    return one.getMessage() == null ? one.getClass().getSimpleName() : one.getMessage();
  }

  private static SymbolonException noAnswer(URI url, String seen, Throwable cause) {
    return new SymbolonException(
        Reason.NO_ANSWER,
        "The authority at " + shown(url) + " did not answer.",
        seen,
        "Check the address, and whether the authority runs; then give the command again.",
        cause);
  }

  private static String shown(URI url) {
    return VisibleText.of(url.toString());
  }

  /** More was sent than is read. */
  private static final class TooMuch extends RuntimeException {
    private static final long serialVersionUID = 1L;
  }

  /** Collects a content of bounded size. */
  private static final class Bounded implements HttpResponse.BodySubscriber<byte[]> {
    private final CompletableFuture<byte[]> body = new CompletableFuture<>();
    private final ByteArrayOutputStream collected = new ByteArrayOutputStream();
    private Flow.@org.jspecify.annotations.Nullable Subscription subscription;

    @Override
    public CompletionStage<byte[]> getBody() {
      return body;
    }

    @Override
    public void onSubscribe(Flow.Subscription given) {
      subscription = given;
      given.request(Long.MAX_VALUE);
    }

    @Override
    public void onNext(List<ByteBuffer> buffers) {
      for (ByteBuffer buffer : buffers) {
        byte[] octets = new byte[buffer.remaining()];
        buffer.get(octets);
        if (collected.size() + octets.length > MOST) {
          if (subscription != null) {
            subscription.cancel();
          }
          body.completeExceptionally(new TooMuch());
          return;
        }
        collected.writeBytes(octets);
      }
    }

    @Override
    public void onError(Throwable failure) {
      body.completeExceptionally(failure);
    }

    @Override
    public void onComplete() {
      body.complete(collected.toByteArray());
    }
  }
}
