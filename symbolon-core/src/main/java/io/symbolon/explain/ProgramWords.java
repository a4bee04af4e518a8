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
import java.util.BitSet;
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

  private static final String GNU_WORDS = "untrusted or revoked (0x";
  private static final Pattern GNU_STATUS =
      Pattern.compile("untrusted or revoked \\(0x([0-9a-f]+)\\)");

  private static final List<Words> ALL = read();
  private static final List<Tried> TRIED = tried();

  /** The phrases of all, and behind them what the patterns need. */
  private static final WordSearch SEARCH = search();

  /** Phrases of one kind; of none where a line is not to be explained. */
  private record Words(Optional<FindingKind> kind, List<String> phrases, List<Pattern> patterns) {}

  /** A pattern, and the number of the words that it belongs to. */
  private record Tried(int words, Pattern pattern) {}

  /**
   * What a line is.
   *
   * @param kind what it tells of; nothing where it tells of no failure, whatever its words are
   */
  record Meaning(Optional<FindingKind> kind) {}

  private ProgramWords() {}

  private static List<Tried> tried() {
    List<Tried> tried = new ArrayList<>();
    for (int i = 0; i < ALL.size(); i++) {
      for (Pattern pattern : ALL.get(i).patterns()) {
        tried.add(new Tried(i, pattern));
      }
    }
    return List.copyOf(tried);
  }

  private static WordSearch search() {
    List<List<String>> groups = new ArrayList<>();
    ALL.forEach(words -> groups.add(words.phrases()));
    TRIED.forEach(one -> groups.add(NeededWords.of(one.pattern().pattern())));
    return new WordSearch(groups);
  }

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
    BitSet there = SEARCH.groupsIn(lower);
    boolean status = lower.contains(GNU_WORDS);
    int first = there.isEmpty() ? -1 : first(there, lower);
    if ((first < 0 && !status) || !isAboutTls(lower)) {
      return Optional.empty();
    }
    Matcher number = GNU_STATUS.matcher(lower);
    if (status && number.find()) {
      return Optional.of(new Meaning(Optional.of(ofGnuStatus(number.group(1)))));
    }
    return first < 0 ? Optional.empty() : Optional.of(new Meaning(ALL.get(first).kind()));
  }

  private static boolean isAboutTls(String lower) {
    return ABOUT_TLS.first(lower) == 0 || ALSO_ABOUT_TLS.matcher(lower).find();
  }

  private static int first(BitSet there, String lower) {
    int phrase = there.nextSetBit(0);
    int first = phrase >= 0 && phrase < ALL.size() ? phrase : ALL.size();
    for (int at = there.nextSetBit(ALL.size()); at >= 0; at = there.nextSetBit(at + 1)) {
      Tried one = TRIED.get(at - ALL.size());
      if (one.words() >= first) {
        break; // they stand in the order of the words
      }
      if (one.pattern().matcher(lower).find()) {
        first = one.words();
      }
    }
    return first < ALL.size() ? first : -1;
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
