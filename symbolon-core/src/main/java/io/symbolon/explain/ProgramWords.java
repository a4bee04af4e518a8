// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.finding.FindingKind;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What many programs write when TLS fails, from a list that is data. The list is asked for lines
 * about TLS alone: most of its words are used for other things as well.
 */
final class ProgramWords {
  /** Lines that speak of TLS, or of a file as it is used for that. */
  private static final Pattern ABOUT_TLS =
      Pattern.compile(
          "ssl|tls|certificate|\\bcert(s|_|ificat|\\b)|handshak|x509|x\\.509|pkix|pkcs|keystore|key store"
              + "|truststore|trust store|private.?key|\\bcrls?\\b|\\bca\\b|cafile|ca-file|certfile|keyfile"
              + "|host name|libcrypto|invalid receive|\\bpem\\b|asn\\.?1"
              + "|_pem\\b|\\.(pem|crt|cer|key|p12|pfx|jks|crl|der)\\b|sec_e_|sec_error|hostname|schannel"
              + "|trust ?anchor|remotecertificate|alert|cipher|pass ?phrase|cert_e_|altname|starttls|https"
              + "|pg_hba|startup packet|confidentiality|insecure transport|secure transport|sspi"
              + "|reply type byte|http/0\\.9|packets out of order|eproto|curl: \\(|decoder routines"
              + "|unrecoverablekey|cryptographicexception|\"password\" is null|tag number over 30"
              + "|secure channel|depth_zero|unable_to_|self_signed|err_cert|cert_has|\\w_crl|invalid_purpose");

  private static final Pattern GNU_STATUS =
      Pattern.compile("untrusted or revoked \\(0x([0-9a-f]+)\\)");

  private static final List<Words> ALL = read();

  /** Phrases of one kind; of none where a line is not to be explained. */
  private record Words(Optional<FindingKind> kind, List<String> phrases, List<Pattern> patterns) {
    boolean isIn(String lower) {
      return phrases.stream().anyMatch(lower::contains)
          || patterns.stream().anyMatch(one -> one.matcher(lower).find());
    }
  }

  /**
   * What a line is.
   *
   * @param kind what it tells of; nothing where it tells of no failure, whatever its words are
   */
  record Meaning(Optional<FindingKind> kind) {}

  private ProgramWords() {}

  private static List<Words> read() {
    List<Words> all = new ArrayList<>();
    try (InputStream in =
            Objects.requireNonNull(
                ProgramWords.class.getResourceAsStream("program-words.txt"), "the words");
        BufferedReader lines =
            new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8))) {
      for (String line = lines.readLine(); line != null; line = lines.readLine()) {
        if (line.startsWith("[")) {
          String name = line.substring(1, line.length() - 1);
          all.add(
              new Words(
                  name.equals("nothing")
                      ? Optional.empty()
                      : Optional.of(
                          FindingKind.valueOf(name.toUpperCase(Locale.ROOT).replace('-', '_'))),
                  new ArrayList<>(),
                  new ArrayList<>()));
        } else if (line.startsWith("~")) {
          all.get(all.size() - 1).patterns().add(Pattern.compile(line.substring(1)));
        } else if (!line.isEmpty() && !line.startsWith("#")) {
          all.get(all.size() - 1).phrases().add(line);
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return List.copyOf(all);
  }

  /** What a line means, in lower case; nothing where no word of it is known. */
  static Optional<Meaning> in(String lower) {
    if (!ABOUT_TLS.matcher(lower).find()) {
      return Optional.empty();
    }
    Matcher status = GNU_STATUS.matcher(lower);
    if (status.find()) {
      return Optional.of(new Meaning(Optional.of(ofGnuStatus(status.group(1)))));
    }
    return ALL.stream()
        .filter(one -> one.isIn(lower))
        .findFirst()
        .map(one -> new Meaning(one.kind()));
  }

  /** The status that one library gives as a number: a bit for each reason. */
  private static FindingKind ofGnuStatus(String hex) {
    long bits = hex.length() > 8 ? 0 : Long.parseLong(hex, 16);
    if ((bits & 0x20) != 0) {
      return FindingKind.REVOKED;
    }
    if ((bits & 0x400) != 0) {
      return FindingKind.EXPIRED;
    }
    if ((bits & 0x200) != 0) {
      return FindingKind.NOT_YET_VALID;
    }
    if ((bits & 0x40000) != 0) {
      return FindingKind.WRONG_USE;
    }
    if ((bits & 0x100) != 0) {
      return FindingKind.REFUSED_BY_POLICY;
    }
    if ((bits & 0x9000) != 0) {
      return FindingKind.REVOCATION_LIST_EXPIRED;
    }
    return (bits & 0xC0) != 0 ? FindingKind.ROOT_NOT_TRUSTED : FindingKind.PEER_DOES_NOT_TRUST;
  }
}
