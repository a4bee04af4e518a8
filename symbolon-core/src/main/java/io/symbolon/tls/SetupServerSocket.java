// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import java.io.IOException;
import java.net.Socket;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;

/**
 * A server socket that takes every connection with the setup of the moment. What a program sets on
 * it by itself goes over what the setup says, as with the platform's own.
 */
final class SetupServerSocket extends SSLServerSocket {
  private final Supplier<LoadedSetup> current;
  private final List<Consumer<SSLSocket>> own = new ArrayList<>();

  SetupServerSocket(Supplier<LoadedSetup> current) throws IOException {
    this.current = current;
  }

  @Override
  public Socket accept() throws IOException {
    Socket below = super.accept();
    try {
      LoadedSetup now = current.get();
      SSLSocket socket =
          (SSLSocket) now.platform().getSocketFactory().createSocket(below, null, true);
      socket.setUseClientMode(false);
      now.follow(socket);
      synchronized (own) {
        own.forEach(setting -> setting.accept(socket));
      }
      return socket;
    } catch (IOException | RuntimeException e) {
      below.close();
      throw e;
    }
  }

  private void set(Consumer<SSLSocket> setting) {
    synchronized (own) {
      own.add(setting);
    }
  }

  /** The terms of a connection that would come now. */
  private SSLSocket sample() {
    try {
      LoadedSetup now = current.get();
      SSLSocket socket = (SSLSocket) now.platform().getSocketFactory().createSocket();
      socket.setUseClientMode(false);
      now.follow(socket);
      synchronized (own) {
        own.forEach(setting -> setting.accept(socket));
      }
      return socket;
    } catch (IOException e) {
      throw new IllegalStateException("the platform makes no socket", e);
    }
  }

  @Override
  public SSLParameters getSSLParameters() {
    return sample().getSSLParameters();
  }

  @Override
  public void setSSLParameters(SSLParameters terms) {
    set(socket -> socket.setSSLParameters(terms));
  }

  @Override
  public String[] getEnabledCipherSuites() {
    return sample().getEnabledCipherSuites();
  }

  @Override
  public void setEnabledCipherSuites(String[] suites) {
    String[] copy = suites.clone();
    set(socket -> socket.setEnabledCipherSuites(copy));
  }

  @Override
  public String[] getSupportedCipherSuites() {
    return sample().getSupportedCipherSuites();
  }

  @Override
  public String[] getSupportedProtocols() {
    return sample().getSupportedProtocols();
  }

  @Override
  public String[] getEnabledProtocols() {
    return sample().getEnabledProtocols();
  }

  @Override
  public void setEnabledProtocols(String[] protocols) {
    String[] copy = protocols.clone();
    set(socket -> socket.setEnabledProtocols(copy));
  }

  @Override
  public void setNeedClientAuth(boolean need) {
    set(socket -> socket.setNeedClientAuth(need));
  }

  @Override
  public boolean getNeedClientAuth() {
    return sample().getNeedClientAuth();
  }

  @Override
  public void setWantClientAuth(boolean want) {
    set(socket -> socket.setWantClientAuth(want));
  }

  @Override
  public boolean getWantClientAuth() {
    return sample().getWantClientAuth();
  }

  @Override
  public void setUseClientMode(boolean client) {
    set(socket -> socket.setUseClientMode(client));
  }

  @Override
  public boolean getUseClientMode() {
    return sample().getUseClientMode();
  }

  @Override
  public void setEnableSessionCreation(boolean enabled) {
    set(socket -> socket.setEnableSessionCreation(enabled));
  }

  @Override
  public boolean getEnableSessionCreation() {
    return sample().getEnableSessionCreation();
  }
}
