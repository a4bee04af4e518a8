/** Runnable examples over the public API. */
module io.symbolon.examples {
  requires io.symbolon.core;
  requires java.net.http;
  requires jdk.httpserver;
  requires static org.jspecify;
}
