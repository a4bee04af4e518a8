/** Runnable examples over the public API. */
module io.symbolon.examples {
  requires io.netty.codec;
  requires io.netty.codec.http;
  requires io.netty.common;
  requires io.netty.handler;
  requires io.netty.transport;
  requires io.symbolon.acme;
  requires io.symbolon.core;
  requires io.symbolon.servers;
  requires io.symbolon.task;
  requires io.vertx.core;
  requires java.net.http;
  requires jdk.httpserver;
  requires static io.vertx.codegen;
  requires static org.jspecify;
}
