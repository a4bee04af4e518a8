// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import java.util.List;
import java.util.regex.Pattern;

/**
 * What a line must speak of for a phrase to count: most phrases are used for other things as well.
 */
enum LineAbout {
  /** Anything. */
  ANY,
  /** TLS, certificates, or a file as it is used for them. */
  ABOUT_TLS,
  /** A file with keys or certificates, or a password. */
  ABOUT_FILES,
  /** A setting of TLS. */
  ABOUT_SETTINGS;

  /** Whether a line, in lower case, speaks of it. */
  boolean holds(String lower) {
    return switch (this) {
      case ANY -> true;
      case ABOUT_TLS -> Words.speakOfTls(lower);
      case ABOUT_FILES -> Words.OURS.matcher(lower).find();
      case ABOUT_SETTINGS -> Words.SETTING.matcher(lower).find();
    };
  }

  /** The patterns that decide. */
  private static final class Words {
    /** Lines that speak of TLS, or of a file as it is used for that, have one of these words ... */
    private static final WordSearch ABOUT_TLS =
        new WordSearch(
            List.of(
                List.of(
                    ("ssl|tls|certificate|handshak|x509|x.509|pkix|pkcs|keystore|key store|truststore"
                            + "|trust store|privatekey|private key|private_key|private-key|cafile"
                            + "|ca-file|certfile|keyfile|host name|libcrypto|invalid receive|asn1|asn.1"
                            + "|sec_e_|sec_error|hostname|schannel|trustanchor|trust anchor"
                            + "|remotecertificate|alert|cipher|passphrase|pass phrase|cert_e_|altname"
                            + "|starttls|https|pg_hba|startup packet|confidentiality"
                            + "|insecure transport|secure transport|sspi|reply type byte|http/0.9"
                            + "|packets out of order|eproto|curl: (|decoder routines"
                            + "|unrecoverablekey|cryptographicexception|\"password\" is null"
                            + "|tag number over 30|secure channel|depth_zero|unable_to_|self_signed"
                            + "|err_cert|cert_has|invalid_purpose")
                        .split("\\|"))));

    /** ... or match this. */
    private static final Pattern ALSO_ABOUT_TLS =
        Pattern.compile(
            "\\bcert(s|_|ificat|\\b)|private.?key|\\bcrls?\\b|\\bca\\b|\\bpem\\b|_pem\\b|\\w_crl"
                + "|\\.(pem|crt|cer|key|p12|pfx|jks|crl|der)\\b");

    /** A line about a file with keys or certificates, or about a setting of TLS. */
    static final Pattern OURS =
        Pattern.compile(
            "\\.(p12|pfx|jks|jceks|pem|crt|cer|der|key|crl|p7b|keystore|truststore)\\b"
                + "|key-?_?store|trust-?_?store|certificate|private.?key|ssl|tls|\\bcrl\\b|x509|pkcs|alias|derinput|pass ?(word|phrase)");

    /** Settings of servers that speak of TLS, by how their names begin. */
    static final Pattern SETTING =
        Pattern.compile(
            "\\[emerg\\]|syntax error on line|invalid command '|\\[alert\\].*parsing"
                + "|\\bssl_[a-z_]+|\\bssl[a-z]*(engine|certificate|protocol|verify|cipher)"
                + "|\\btls-[a-z-]+|saxparseexception|bad configuration|configuration error");

    static boolean speakOfTls(String lower) {
      return ABOUT_TLS.first(lower) == 0 || ALSO_ABOUT_TLS.matcher(lower).find();
    }
  }
}
