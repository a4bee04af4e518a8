// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.finding.Side;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;

/**
 * A setup together with the platform's context made from it. What a handshake needs lies in one
 * generation from its start to its end: a key is never mixed with the certificates of another, and
 * no session of an earlier trust is resumed under a later one.
 */
record LoadedSetup(TlsSetup setup, SSLContext platform) {
  SSLEngine follow(SSLEngine engine) {
    engine.setUseClientMode(setup.side() == Side.CLIENT);
    SSLParameters terms = engine.getSSLParameters();
    setup.apply(terms);
    engine.setSSLParameters(terms);
    return engine;
  }

  SSLSocket follow(SSLSocket socket) {
    SSLParameters terms = socket.getSSLParameters();
    setup.apply(terms);
    socket.setSSLParameters(terms);
    return socket;
  }

  SSLParameters terms(SSLParameters terms) {
    setup.apply(terms);
    return terms;
  }
}
