// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import java.util.Locale;

/** Servers whose own way of judging is known, beside Java's. */
public enum ServerKind {
  /** nginx. */
  NGINX("nginx", "ssl_verify_depth %d", "ssl_password_file FILE"),
  /** Apache httpd. */
  HTTPD("Apache httpd", "SSLVerifyDepth %d", "SSLPassPhraseDialog exec:PROGRAM"),
  /** HAProxy. */
  HAPROXY("HAProxy", "", ""),
  /** Apache Tomcat. */
  TOMCAT("Tomcat", "", "certificateKeyPassword"),
  /** Eclipse Jetty. */
  JETTY("Jetty", "", "jetty.sslContext.keyManagerPassword"),
  /** PostgreSQL. */
  POSTGRESQL("PostgreSQL", "", "ssl_passphrase_command"),
  /** MariaDB. */
  MARIADB("MariaDB", "", ""),
  /** Redis. */
  REDIS("Redis", "", "tls-key-file-pass"),
  /** Eclipse Mosquitto. */
  MOSQUITTO("Mosquitto", "", ""),
  /** OpenLDAP. */
  OPENLDAP("OpenLDAP", "", ""),
  /** Postfix. */
  POSTFIX("Postfix", "", ""),
  /** Dovecot. */
  DOVECOT("Dovecot", "", "ssl_key_password");

  private final String title;
  private final String depthSetting;
  private final String passwordSetting;

  ServerKind(String title, String depthSetting, String passwordSetting) {
    this.title = title;
    this.depthSetting = depthSetting;
    this.passwordSetting = passwordSetting;
  }

  /** {@return its name, as its makers write it} */
  public String title() {
    return title;
  }

  /** {@return the word for it in rules and documents} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  String setting(ServerRule.Circumstance circumstance, int depth) {
    return switch (circumstance) {
      case SEALED_KEY, OWN_KEY_PASSWORD -> passwordSetting;
      default -> depthSetting.formatted(depth);
    };
  }
}
