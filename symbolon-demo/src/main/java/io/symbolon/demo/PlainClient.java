// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;

/**
 * A plain Java HTTPS client, in a process of its own, that knows nothing of Symbolon. What it
 * trusts is what any Java program trusts: its own roots, or the truststore that the usual system
 * properties name.
 */
public final class PlainClient {
  private PlainClient() {}

  /** Gets the page at the address given and prints it; ends with 1 where it was refused. */
  public static void main(String[] arguments) throws InterruptedException {
    HttpClient client = HttpClient.newBuilder().connectTimeout(Duration.ofMinutes(1)).build();
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(arguments[0])).timeout(Duration.ofMinutes(1)).build();
    try {
      HttpResponse<String> response = client.send(request, HttpResponse.BodyHandlers.ofString());
      System.out.println(
          "got "
              + response.statusCode()
              + " over "
              + response.sslSession().orElseThrow().getProtocol());
      System.out.print(response.body());
    } catch (IOException e) {
      System.out.println("refused: " + e.getMessage());
      System.exit(1);
    }
  }
}
