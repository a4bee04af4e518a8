// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.netty.bootstrap.ServerBootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFutureListener;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.channel.nio.NioEventLoopGroup;
import io.netty.channel.socket.SocketChannel;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.codec.http.DefaultFullHttpResponse;
import io.netty.handler.codec.http.FullHttpRequest;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpResponseStatus;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.HttpVersion;
import io.netty.handler.ssl.SslHandler;
import io.symbolon.chain.Credential;
import io.symbolon.tls.ReloadingTls;
import io.symbolon.tls.TlsFiles;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import javax.net.ssl.SSLEngine;

/**
 * A server made with Netty: each connection gets an engine of the one context, which is the newest
 * key and certificate; connections that are open go on with theirs.
 */
public final class ServeWithNetty {
  private ServeWithNetty() {}

  /** Serves, and serves with a new certificate after a reload. */
  public static void main(String[] arguments) throws IOException, InterruptedException {
    ServedFiles files = new ServedFiles();
    ReloadingTls tls = ReloadingTls.of(TlsFiles.server(files.server()).withTrust(files.clients()));
    EventLoopGroup threads = new NioEventLoopGroup(1);
    try {
      Channel listening =
          new ServerBootstrap()
              .group(threads)
              .channel(NioServerSocketChannel.class)
              .childHandler(new OneConnection(tls))
              .bind(InetAddress.getLoopbackAddress(), 0)
              .sync()
              .channel();
      int port = ((InetSocketAddress) listening.localAddress()).getPort();
      Credential buoy = files.client("CN=buoy-017");
      System.out.println("served with " + files.call(port, buoy));
      files.renew();
      System.out.println("reload: " + tls.reload().outcome());
      System.out.println("served with " + files.call(port, buoy));
    } finally {
      threads.shutdownGracefully().sync();
    }
  }

  private static final class OneConnection extends ChannelInitializer<SocketChannel> {
    private final ReloadingTls tls;

    OneConnection(ReloadingTls tls) {
      this.tls = tls;
    }

    @Override
    protected void initChannel(SocketChannel channel) {
      SSLEngine engine = tls.context().createSSLEngine();
      engine.setUseClientMode(false);
      channel
          .pipeline()
          .addLast(
              new SslHandler(engine),
              new HttpServerCodec(),
              new HttpObjectAggregator(1 << 16),
              new NoContent());
    }
  }

  private static final class NoContent extends SimpleChannelInboundHandler<FullHttpRequest> {
    @Override
    protected void channelRead0(ChannelHandlerContext context, FullHttpRequest request) {
      context
          .writeAndFlush(
              new DefaultFullHttpResponse(HttpVersion.HTTP_1_1, HttpResponseStatus.NO_CONTENT))
          .addListener(ChannelFutureListener.CLOSE);
    }
  }
}
