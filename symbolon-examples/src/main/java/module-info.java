/** Runnable examples over the public API. */
module io.symbolon.examples {
  requires io.symbolon.core;
  requires io.symbolon.servers;
  requires java.net.http;
  requires jdk.httpserver;
  requires static org.jspecify;
}
