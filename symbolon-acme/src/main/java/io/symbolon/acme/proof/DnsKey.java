// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.SafeRead;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Base64;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.xbill.DNS.Name;
import org.xbill.DNS.TSIG;
import org.xbill.DNS.TextParseException;

/**
 * The key with which updates of a zone are signed (RFC 8945), from the file that name servers use.
 */
final class DnsKey {
  private static final int MOST = 64 << 10;
  private static final Pattern COMMENT =
      Pattern.compile("(?://|#)[^\\n]*|/\\*.*?\\*/", Pattern.DOTALL);
  private static final Pattern KEY =
      Pattern.compile("\\bkey\\s+\"?([^\\s\"{]{1,255})\"?\\s*\\{([^}]{1,4000})}");
  private static final Pattern ALGORITHM =
      Pattern.compile("\\balgorithm\\s+\"?([A-Za-z0-9-]{1,40})\"?\\s*;");
  private static final Pattern SECRET =
      Pattern.compile("\\bsecret\\s+\"?([A-Za-z0-9+/=]{1,1000})\"?\\s*;");
  private static final Set<String> ALGORITHMS =
      Set.of("hmac-sha224", "hmac-sha256", "hmac-sha384", "hmac-sha512", "hmac-sha1", "hmac-md5");

  private DnsKey() {}

  static TSIG read(Path file) {
    String text;
    try {
      text = new String(SafeRead.named(file, MOST, MOST).octets(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The key for the DNS in " + VisibleText.of(file.toString()) + " can't be read.",
          "There is no such file, or the system does not let you.",
          "Check the name and the rights of the file.",
          e);
    }
    String plain = COMMENT.matcher(text).replaceAll(" ");
    Matcher key = KEY.matcher(plain);
    if (!key.find()) {
      throw wrong(file, "It has no statement: key \"NAME\" { algorithm ...; secret \"...\"; };");
    }
    Matcher algorithm = ALGORITHM.matcher(key.group(2));
    Matcher secret = SECRET.matcher(key.group(2));
    if (!algorithm.find() || !secret.find()) {
      throw wrong(file, "Its key has no algorithm or no secret.");
    }
    String word = algorithm.group(1).toLowerCase(Locale.ROOT);
    if (!ALGORITHMS.contains(word)) {
      throw wrong(file, "Its algorithm " + VisibleText.of(word) + " is none of RFC 8945.");
    }
    try {
      Name name = Name.fromString(key.group(1), Name.root);
      Name kind = word.equals("hmac-md5") ? TSIG.HMAC_MD5 : Name.fromString(word, Name.root);
      return new TSIG(kind, name, Base64.getDecoder().decode(secret.group(1)));
    } catch (TextParseException | IllegalArgumentException e) {
      throw wrong(file, "Its name is not a name of the DNS, or its secret is not Base64.");
    }
  }

  private static SymbolonException wrong(Path file, String seen) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The key for the DNS in " + VisibleText.of(file.toString()) + " can't be used.",
        seen,
        "Name the key file that the name server has.");
  }
}
