// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.seal.Secret;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Lines of settings files without the secrets in them.
 *
 * <p>Which settings hold a secret nobody knows for all programs. So a line that changes, which
 * Symbolon has read, is shown without the values of all settings whose names speak of one; and a
 * line that only stands around a change is shown whole only where its setting is one that Symbolon
 * knows to hold none. Of all others the name is shown.
 */
final class Passwords {
  private static final String HIDDEN = "****";

  /** A name that speaks of a secret. */
  private static final String NAME =
      "[\\w.\\[\\]-]*(?:pass(?!ive|ed\\b|es\\b)|pwd|secret|token|auth(?!ors?\\b|orit)|credential"
          + "|cookie|dsn|api[-_.]?key|access[-_.]?key|private[-_.]?key|account[-_.]?key"
          + "|shared[-_.]?key|master[-_.]?key|encryption[-_.]?key|signing[-_.]?key)[\\w.\\[\\]-]*";

  private static final Pattern SETTING =
      Pattern.compile(
          "(?i)(?<![\\w.-])(?<name>"
              + NAME
              + "|[\\w.\\[\\]-]*key)(?<between>[\"']?\\s*[=:]\\s*|[\"']?\\s+)"
              + "(?<value>\"(?:\\\\.|[^\"\\\\])*\"|'(?:\\\\.|[^'\\\\])*'|[^\\s\"'<>][^\\s<>]*)");

  /** Names that only look so: they lead to another server, a file or a kind. */
  private static final Pattern HARMLESS_NAME =
      Pattern.compile(
          "(?i)(?:proxy|fastcgi|uwsgi|scgi|grpc)_pass|ProxyPass\\w*|.*(?:certificate|cert|ssl|tls|pem|key)"
              + "[-_.]?key|key|.*(?:pass|auth)[-_.]?(?:phrase)?[-_.]?(?:dialog|type|method|mode)"
              + "|client-?_?auth|AuthType|auth_type");

  /** A value that says where something is, or one of a few words. */
  private static final Pattern HARMLESS_VALUE =
      Pattern.compile(
          "[\"']?(?:(?:/|\\./|\\$\\{|file:|classpath:|[A-Za-z]:[\\\\/])[^:@\\s]*"
              + "|[\\w./-]+\\.(?:pem|key|crt|cer|p12|pfx|jks|jceks|bcfks|conf|cnf|txt|der)"
              + "|(?i:on|off|true|false|yes|no|none|required?|optional|want|need|exec|builtin))[\"';,]*");

  /** Of a name that holds a password itself only a place is harmless. */
  private static final Pattern PASSWORD_NAME = Pattern.compile("(?i).*(?:pass|pwd|secret|token).*");

  private static final Pattern PLACE_NAME = Pattern.compile("(?i).*(?:file|path|dir|location).*");

  private static final Pattern USER_IN_URL =
      Pattern.compile("(\\b[A-Za-z][\\w+.-]*://)[^\\s/@\"']+@");

  /** Nothing but brackets and names of sections. */
  private static final Pattern STRUCTURE =
      Pattern.compile(
          "\\s*(?:[{}()\\[\\];,]*|\\[{1,2}[\\w.: -]+]{1,2}|</?[\\w:.-]+\\s*/?>?|/?>|[\\w.-]+\\s*[:{]|-{3})\\s*");

  private static final Pattern FIRST =
      Pattern.compile("(?<lead>[\\s<\"'-]*)(?<name>[\\w$.@-]+)(?<rest>.*)", Pattern.DOTALL);

  private static final Pattern ATTRIBUTE =
      Pattern.compile("([\\w:.-]+)(\\s*=\\s*)(\"[^\"]*\"|'[^']*')");

  /** How the names begin that hold no secret in any server that Symbolon knows. */
  private static final Set<String> KNOWN =
      Set.of(
          "ssl",
          "tls",
          "listen",
          "server",
          "servername",
          "serveralias",
          "serverroot",
          "location",
          "include",
          "includeoptional",
          "bind",
          "frontend",
          "backend",
          "default_backend",
          "port",
          "address",
          "host",
          "hostname",
          "protocol",
          "cipher",
          "certificate",
          "keystore",
          "truststore",
          "trust",
          "cert",
          "cafile",
          "capath",
          "client-auth",
          "clientauth",
          "enabled",
          "http",
          "https",
          "redirect",
          "return",
          "root",
          "documentroot",
          "directory",
          "virtualhost",
          "connector",
          "engine",
          "sslhostconfig",
          "service",
          "context",
          "name",
          "class",
          "mode",
          "worker",
          "events",
          "use",
          "sendfile",
          "keepalive",
          "gzip",
          "index",
          "default_type",
          "types",
          "timeout",
          "maxconn",
          "option",
          "log",
          "errorlog",
          "customlog",
          "error_log",
          "access_log",
          "pid",
          "daemon",
          "smtpd_tls",
          "smtp_tls",
          "olctls",
          "dn",
          "objectclass",
          "cn",
          "changetype",
          "verify",
          "crt",
          "ca-file",
          "spring",
          "bundle",
          "pem",
          "jks",
          "reload-on-update",
          "loadmodule",
          "define",
          "require",
          "allow",
          "deny",
          "redirectport",
          "scheme",
          "secure",
          "maxthreads",
          "proxy_pass",
          "user",
          "group");

  private Passwords() {}

  /** Lines that change. */
  static List<String> masked(List<String> lines, List<Secret> hidden) {
    return each(lines, hidden, false);
  }

  /** Lines that only stand around a change. */
  static List<String> around(List<String> lines, List<Secret> hidden) {
    return each(lines, hidden, true);
  }

  private static List<String> each(List<String> lines, List<Secret> hidden, boolean around) {
    List<String> masked = new ArrayList<>();
    boolean goesOn = false; // a backslash at the end of the line before
    int block = -1; // the indentation of the name whose text stands in the lines below it
    for (String line : lines) {
      boolean inBlock = block >= 0 && (line.isBlank() || indentation(line) > block);
      if (goesOn || inBlock) {
        masked.add(line.isBlank() ? line : HIDDEN);
        goesOn = goesOn && endsOpen(line);
        block = inBlock ? block : -1;
        continue;
      }
      String shown = setting(line);
      boolean secret = !shown.equals(line);
      block = secret && line.matches("[^#]*:\\s*[|>][-+\\d]*\\s*") ? indentation(line) : -1;
      goesOn = secret && endsOpen(line);
      if (around && !secret) {
        shown = known(line);
      }
      shown = USER_IN_URL.matcher(shown).replaceAll("$1" + HIDDEN + "@");
      masked.add(without(shown, hidden));
    }
    return masked;
  }

  private static String without(String line, List<Secret> hidden) {
    String shown = line;
    for (Secret secret : hidden) {
      shown = secret.isEmpty() ? shown : shown.replace(new String(secret.reveal()), HIDDEN);
    }
    return shown;
  }

  /** A line without the values of settings that speak of secrets; its quotes stay. */
  private static String setting(String line) {
    Matcher matcher = SETTING.matcher(line);
    StringBuilder shown = new StringBuilder();
    int at = 0;
    while (matcher.find(at)) {
      if (isHarmless(matcher.group("name"), matcher.group("value"))) {
        int next = matcher.start("value");
        shown.append(line, at, next);
        at = next;
        continue;
      }
      String value = matcher.group("value");
      shown.append(line, at, matcher.start("value"));
      char first = value.charAt(0);
      if (first == '"' || first == '\'') {
        shown.append(first).append(HIDDEN).append(first);
        at = matcher.end("value");
      } else {
        // Without quotes the value may have blanks in it: all of the rest is hidden.
        int end = line.length();
        while (end > matcher.start("value") && ";,>/".indexOf(line.charAt(end - 1)) >= 0) {
          end--;
        }
        int open = openQuote(line.substring(0, matcher.start("value")));
        if (end > matcher.start("value") && line.charAt(end - 1) == open) {
          end--; // it was opened before the name
        }
        boolean attribute = line.stripLeading().startsWith("<");
        at = attribute ? matcher.end("value") : end;
        shown.append(HIDDEN);
      }
      if (at >= line.length()) {
        break;
      }
    }
    return shown.append(line, Math.min(at, line.length()), line.length()).toString();
  }

  /** The quote that a text leaves open; 0 if it leaves none. */
  private static int openQuote(String before) {
    int open = 0;
    for (int i = 0; i < before.length(); i++) {
      char c = before.charAt(i);
      if (c == open) {
        open = 0;
      } else if (open == 0 && (c == '"' || c == '\'')) {
        open = c;
      }
    }
    return open;
  }

  private static boolean isHarmless(String name, String value) {
    if (PASSWORD_NAME.matcher(name).matches() && !HARMLESS_NAME.matcher(name).matches()) {
      return PLACE_NAME.matcher(name).matches() && HARMLESS_VALUE.matcher(value).matches();
    }
    return HARMLESS_NAME.matcher(name).matches()
        ? !name.toLowerCase(Locale.ROOT).endsWith("key") || HARMLESS_VALUE.matcher(value).matches()
        : HARMLESS_VALUE.matcher(value).matches();
  }

  /** A line of which only the name is shown, where Symbolon does not know it to hold no secret. */
  private static String known(String line) {
    if (STRUCTURE.matcher(line).matches()) {
      return line;
    }
    String bare = line.stripLeading();
    if (bare.startsWith("<") || ATTRIBUTE.matcher(line).find()) {
      return ATTRIBUTE
          .matcher(line)
          .replaceAll(
              found ->
                  Matcher.quoteReplacement(
                      isKnown(found.group(1))
                          ? found.group()
                          : found.group(1)
                              + found.group(2)
                              + found.group(3).charAt(0)
                              + HIDDEN
                              + found.group(3).charAt(0)));
    }
    if (bare.startsWith("#") || bare.startsWith(";") || bare.startsWith("//")) {
      return line.substring(0, line.length() - bare.length()) + bare.charAt(0) + " ...";
    }
    Matcher first = FIRST.matcher(line);
    if (!first.matches()) {
      return line.isBlank() ? line : HIDDEN;
    }
    return isKnown(first.group("name"))
        ? line
        : first.group("lead") + first.group("name") + " " + HIDDEN;
  }

  private static boolean isKnown(String name) {
    String lower = name.toLowerCase(Locale.ROOT);
    if (KNOWN.contains(lower)) {
      return true;
    }
    for (String part : lower.split("[._:-]", -1)) {
      if (KNOWN.contains(part)) {
        return true;
      }
    }
    return KNOWN.stream().anyMatch(one -> one.length() > 2 && lower.startsWith(one));
  }

  private static int indentation(String line) {
    return line.length() - line.stripLeading().length();
  }

  private static boolean endsOpen(String line) {
    int slashes = 0;
    while (slashes < line.length() && line.charAt(line.length() - 1 - slashes) == '\\') {
      slashes++;
    }
    return slashes % 2 == 1;
  }
}
