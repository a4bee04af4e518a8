// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import static io.symbolon.finding.FindingTopic.AUTHORITIES;
import static io.symbolon.finding.FindingTopic.AUTOMATIC;
import static io.symbolon.finding.FindingTopic.CERTIFICATES;
import static io.symbolon.finding.FindingTopic.CHAINS;
import static io.symbolon.finding.FindingTopic.COMPARISONS;
import static io.symbolon.finding.FindingTopic.CONVERSIONS;
import static io.symbolon.finding.FindingTopic.FAILURES;
import static io.symbolon.finding.FindingTopic.FILES;
import static io.symbolon.finding.FindingTopic.HANDSHAKES;
import static io.symbolon.finding.FindingTopic.LOGS;
import static io.symbolon.finding.FindingTopic.PROBES;
import static io.symbolon.finding.FindingTopic.PROTECTION;
import static io.symbolon.finding.FindingTopic.REQUESTS;
import static io.symbolon.finding.FindingTopic.SERVERS;
import static io.symbolon.finding.FindingTopic.TRUSTSTORES;
import static io.symbolon.finding.Level.NOTE;
import static io.symbolon.finding.Level.PROBLEM;
import static io.symbolon.finding.Level.WARNING;

import io.symbolon.failure.Reason;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Every kind of finding: its id, how much it matters, and what it means in general. Programs decide
 * by it; ids stay as they are from version to version.
 */
public enum FindingKind {
  /** A file or folder does not exist, or the system does not let you read it. */
  UNREADABLE(
      FILES,
      "a file or folder does not exist, or the system does not let you read it",
      PROBLEM,
      WARNING),
  /** Content is cut off or was changed. */
  DAMAGED(FILES, "content is cut off or was changed", PROBLEM, WARNING),
  /** No password given opens it. */
  LOCKED(FILES, "no password given opens it", PROBLEM, WARNING),
  /** A size, or a number of rounds, beyond what is read. */
  LIMIT_PASSED(FILES, "a size, or a number of rounds, beyond what is read", PROBLEM, WARNING),
  /** A format or an algorithm that is not read. */
  UNSUPPORTED(FILES, "a format or an algorithm that is not read", PROBLEM, WARNING),
  /**
   * A device, a pipe, a socket, a file that the system makes up, or another account's link to a
   * file that is not that account's: not read; a note in a folder.
   */
  NOT_A_FILE(
      FILES,
      "a device, a pipe, a socket, a file that the system makes up, or another account's link to a file that is not that account's: not read; a note in a folder",
      PROBLEM,
      NOTE),
  /** A setting of a server's TLS part that Symbolon does not understand; a problem for a change. */
  SETTING_NOT_UNDERSTOOD(
      SERVERS,
      "a setting of a server's TLS part that Symbolon does not understand; a problem for a change",
      PROBLEM,
      WARNING),
  /** What a change would do besides what is wanted: it is not made. */
  CHANGES_MORE(SERVERS, "what a change would do besides what is wanted: it is not made", PROBLEM),
  /** Written, and the running server was not seen to do what is wanted. */
  NOT_SEEN_RUNNING(
      SERVERS, "written, and the running server was not seen to do what is wanted", PROBLEM),
  /** A server that was named answered and showed no certificate. */
  NO_CERTIFICATE_SHOWN(
      PROBES, "a server that was named answered and showed no certificate", PROBLEM),
  /**
   * A file or folder is named as those that Symbolon makes for its work, and this account has none
   * of that name on record: it is left as it is.
   */
  NOT_ON_RECORD(
      FILES,
      "a file or folder is named as those that Symbolon makes for its work, and this account has none of that name on record: it is left as it is",
      WARNING),
  /** A folder without a file. */
  EMPTY_FOLDER(FILES, "a folder without a file", NOTE),
  /** A file without content; a note in a folder. */
  EMPTY_FILE(FILES, "a file without content; a note in a folder", PROBLEM, NOTE),
  /** No key and no certificate in a file; a note in a folder. */
  NOTHING_KNOWN(FILES, "no key and no certificate in a file; a note in a folder", PROBLEM, NOTE),
  /** A keystore or bundle without any entry. */
  EMPTY_STORE(FILES, "a keystore or bundle without any entry", WARNING),
  /** A block of PEM that begins on the line where another ends: servers refuse the file. */
  BLOCKS_GLUED(
      FILES,
      "a block of PEM that begins on the line where another ends: servers refuse the file",
      WARNING),
  /** Text that mail or an editor changed, read all the same; the place tells the line. */
  MANGLED_TEXT(
      FILES,
      "text that mail or an editor changed, read all the same; the place tells the line",
      NOTE),
  /** Line ends of Windows, or text around the blocks: nothing that readers stumble over. */
  TEXT_LAYOUT(
      FILES,
      "line ends of Windows, or text around the blocks: nothing that readers stumble over",
      NOTE),
  /** A file with thousands of findings; the rest is not listed. */
  MORE_FINDINGS(FILES, "a file with thousands of findings; the rest is not listed", NOTE),
  /** A PEM block that is none of ours. */
  UNKNOWN_BLOCK(FILES, "a PEM block that is none of ours", NOTE),
  /** A store that carries no check against changes. */
  NO_INTEGRITY_CHECK(FILES, "a store that carries no check against changes", NOTE),
  /** A JKS or JCEKS whose password was not given. */
  INTEGRITY_NOT_CHECKED(FILES, "a JKS or JCEKS whose password was not given", WARNING),
  /** A JCEKS with a secret key, behind which nothing is read. */
  NOT_READ_TO_ITS_END(FILES, "a JCEKS with a secret key, behind which nothing is read", WARNING),
  /**
   * Signatures that were not checked, because the files ask for more work than files of their size
   * do.
   */
  CHECKS_STOPPED(
      FILES,
      "signatures that were not checked, because the files ask for more work than files of their size do",
      PROBLEM),

  /** A private key that lies open in a mail. */
  KEY_BY_MAIL(PROTECTION, "a private key that lies open in a mail", WARNING),
  /** A password that can be guessed: fewer than 8 characters, or made with less than 64 bits. */
  WEAK_PASSWORD(
      PROTECTION,
      "a password that can be guessed: fewer than 8 characters, or made with less than 64 bits",
      WARNING),
  /** A password that XML, a shell or a settings file takes for something else. */
  PASSWORD_TAKEN_APART(
      PROTECTION,
      "a password that XML, a shell or a settings file takes for something else",
      WARNING),
  /** A key whose password can be guessed fast: JKS, JCEKS, SHA-1 with 3DES, PEM header lines. */
  WEAK_PROTECTION(
      PROTECTION,
      "a key whose password can be guessed fast: JKS, JCEKS, SHA-1 with 3DES, PEM header lines",
      WARNING),
  /** A sound protection with fewer than 10,000 rounds. */
  FEW_ROUNDS(PROTECTION, "a sound protection with fewer than 10,000 rounds", NOTE),
  /** A private key that was written open, as asked for. */
  OPEN_KEY(PROTECTION, "a private key that was written open, as asked for", WARNING),
  /** A PKCS#12 whose key has another password than the store. */
  KEY_PASSWORD_DIFFERS(
      PROTECTION, "a PKCS#12 whose key has another password than the store", WARNING),
  /** A password that programs spell in different ways. */
  PASSWORD_NOT_ASCII(PROTECTION, "a password that programs spell in different ways", WARNING),
  /** A PKCS#12 with PBMAC1. */
  FEW_READERS(PROTECTION, "a PKCS#12 with PBMAC1", WARNING),
  /** An open private key with too wide rights; a warning for the group. */
  KEY_READABLE_BY_OTHERS(
      PROTECTION,
      "an open private key with too wide rights; a warning for the group",
      PROBLEM,
      WARNING),
  /** An open private key that root owns and a group may read, as some servers want it. */
  KEY_READ_BY_GROUP(
      PROTECTION,
      "an open private key that root owns and a group may read, as some servers want it",
      NOTE),
  /** The file system has no such rights. */
  RIGHTS_NOT_CHECKED(PROTECTION, "the file system has no such rights", NOTE),
  /** A password file that others can read or change. */
  PASSWORD_FILE_OPEN(PROTECTION, "a password file that others can read or change", WARNING),
  /** A replaced file with an open key is kept for undo. */
  OPEN_KEY_KEPT(PROTECTION, "a replaced file with an open key is kept for undo", WARNING),
  /** Who could read the replaced file can't read the new one, since a private key is in it. */
  RIGHTS_NARROWED(
      PROTECTION,
      "who could read the replaced file can't read the new one, since a private key is in it",
      WARNING),
  /** A group may read a file with a private key. */
  READABLE_BY_GROUP(PROTECTION, "a group may read a file with a private key", NOTE),

  /** A private key whose public half was asked for and can't be found. */
  PUBLIC_KEY_UNKNOWN(
      CONVERSIONS, "a private key whose public half was asked for and can't be found", WARNING),
  /** What the format has no place for. */
  LEFT_OUT(CONVERSIONS, "what the format has no place for", WARNING),
  /** What a replaced file held and the new one does not. */
  NOT_TAKEN_OVER(CONVERSIONS, "what a replaced file held and the new one does not", WARNING),
  /** A replaced file that no password opens, so that nobody knows whether it held more. */
  REPLACED_NOT_COMPARED(
      CONVERSIONS,
      "a replaced file that no password opens, so that nobody knows whether it held more",
      NOTE),
  /** The root, which the other side has already. */
  ROOT_LEFT_OUT(CONVERSIONS, "the root, which the other side has already", NOTE),
  /** A chain that is written as it lies in its keystore, without the root to check it. */
  ROOT_NOT_AT_HAND(
      CHAINS,
      "a chain that is written as it lies in its keystore, without the root to check it",
      NOTE),
  /** An entry without an alias, which got one. */
  ALIAS_MADE(CONVERSIONS, "an entry without an alias, which got one", NOTE),
  /** Aliases that the format has no place for. */
  NAMES_LEFT_OUT(CONVERSIONS, "aliases that the format has no place for", NOTE),
  /** Dates of entries that the format has no place for. */
  DATES_LEFT_OUT(CONVERSIONS, "dates of entries that the format has no place for", NOTE),
  /** Attributes of a key that the format has no place for. */
  KEY_ATTRIBUTES_LEFT_OUT(
      CONVERSIONS, "attributes of a key that the format has no place for", NOTE),
  /** The key had a password of its own and gets that of the store. */
  KEY_PASSWORD_LEFT(
      CONVERSIONS, "the key had a password of its own and gets that of the store", NOTE),
  /** The key keeps a password of its own. */
  KEY_PASSWORD_KEPT(CONVERSIONS, "the key keeps a password of its own", NOTE),
  /** A certificate that a keystore marks as trusted. */
  BECOMES_TRUSTED(CONVERSIONS, "a certificate that a keystore marks as trusted", NOTE),
  /** A JKS keeps aliases in lower case. */
  ALIAS_IN_LOWER_CASE(CONVERSIONS, "a JKS keeps aliases in lower case", NOTE),

  /** Nothing here belongs to the key. */
  KEY_WITHOUT_CERTIFICATE(CERTIFICATES, "nothing here belongs to the key", WARNING, PROBLEM),
  /** The same private key more than once. */
  KEY_IN_SEVERAL_FILES(CERTIFICATES, "the same private key more than once", WARNING),
  /** A certificate whose encoding breaks the rules, in a way that other programs let pass. */
  ENCODING_FAULT(
      CERTIFICATES,
      "a certificate whose encoding breaks the rules, in a way that other programs let pass",
      WARNING),
  /** The key claims a certificate, but can't prove it. */
  KEY_DOES_NOT_FIT(CERTIFICATES, "the key claims a certificate, but can't prove it", PROBLEM),
  /** Whether key and certificate fit could not be checked. */
  FIT_NOT_CHECKED(CERTIFICATES, "whether key and certificate fit could not be checked", WARNING),
  /** Which certificate belongs to a key could not be checked. */
  PAIRING_NOT_CHECKED(
      CERTIFICATES, "which certificate belongs to a key could not be checked", WARNING),
  /** A renewed certificate beside the old one. */
  SEVERAL_CERTIFICATES(CERTIFICATES, "a renewed certificate beside the old one", NOTE),
  /** A certificate more than once. */
  DUPLICATE(CERTIFICATES, "a certificate more than once", NOTE),
  /**
   * A certificate that came after a request was made is for another key than the one that waits.
   */
  REPLY_FOR_ANOTHER_KEY(
      CERTIFICATES,
      "a certificate that came after a request was made is for another key than the one that waits",
      WARNING),
  /** A key in a keystore, for which no authority's certificate is here. */
  WAITING_FOR_REPLY(
      CERTIFICATES, "a key in a keystore, for which no authority's certificate is here", NOTE),
  /** Its validity is over. */
  EXPIRED(CERTIFICATES, "its validity is over", PROBLEM),
  /** Its validity has not begun. */
  NOT_YET_VALID(CERTIFICATES, "its validity has not begun", PROBLEM),
  /** Its validity ends within 30 days. */
  EXPIRES_SOON(CERTIFICATES, "its validity ends within 30 days", WARNING),
  /** A key that is refused today. */
  WEAK_KEY(CERTIFICATES, "a key that is refused today", PROBLEM),
  /** A signature that is refused today. */
  WEAK_SIGNATURE(CERTIFICATES, "a signature that is refused today", PROBLEM),
  /** A server's certificate that names no host where clients look. */
  NO_ALTERNATIVE_NAMES(
      CERTIFICATES, "a server's certificate that names no host where clients look", PROBLEM),
  /** The certificate is not for the host that was asked about. */
  HOST_NOT_COVERED(
      CERTIFICATES, "the certificate is not for the host that was asked about", PROBLEM, WARNING),
  /** The certificate is for the host that was asked about. */
  HOST_COVERED(CERTIFICATES, "the certificate is for the host that was asked about", NOTE),
  /** A known extension that can't be read. */
  DAMAGED_EXTENSION(CERTIFICATES, "a known extension that can't be read", PROBLEM),
  /** A request that was changed. */
  REQUEST_SIGNATURE_BROKEN(CERTIFICATES, "a request that was changed", PROBLEM),

  /** A PEM file that begins with another certificate than that of its key. */
  OTHER_CERTIFICATE_FIRST(
      CHAINS,
      "a PEM file that begins with another certificate than that of its key: web servers do not start, or fail every handshake",
      PROBLEM),
  /** A certificate whose signature is not that of the issuer's key. */
  SIGNATURE_BROKEN(
      CHAINS,
      "a certificate that the key of its issuer did not sign: changed, forged, or the issuer is a namesake",
      PROBLEM),
  /** A signature in a chain that could not be checked: the chain is not proven. */
  SIGNATURE_NOT_CHECKED(
      CHAINS, "a signature in a chain that could not be checked: the chain is not proven", PROBLEM),
  /** The server's own certificate among the authorities'. */
  END_ENTITY_IN_BUNDLE(CHAINS, "the server's own certificate among the authorities'", NOTE),
  /** Certificates not in the order of the chain; a warning in a probe. */
  CHAIN_ORDER(
      CHAINS, "certificates not in the order of the chain; a warning in a probe", NOTE, WARNING),
  /** The certificate that issued an end-entity is not here: an intermediate one, or the root. */
  ISSUER_ABSENT(
      CHAINS,
      "the certificate that issued an end-entity is not here: an intermediate one, or the root",
      WARNING),
  /** The chain ends below a certificate that is not here. */
  ROOT_ABSENT(CHAINS, "the chain ends below a certificate that is not here", WARNING),
  /** Joined without the rest of its chain, as asked for. */
  INCOMPLETE_CHAIN(CHAINS, "joined without the rest of its chain, as asked for", WARNING),
  /** An authority of the right name whose key did not sign. */
  ISSUER_OF_SAME_NAME(CHAINS, "an authority of the right name whose key did not sign", WARNING),
  /** Signed by a certificate that is no authority. */
  ISSUER_IS_NO_AUTHORITY(CHAINS, "signed by a certificate that is no authority", PROBLEM),
  /** Signed by an authority whose key usage does not allow it. */
  ISSUER_MAY_NOT_SIGN(CHAINS, "signed by an authority whose key usage does not allow it", PROBLEM),
  /** More authorities below another than it allows. */
  PATH_TOO_LONG(CHAINS, "more authorities below another than it allows", PROBLEM),
  /**
   * An authority whose extended key usage does not name the use: Java accepts it, other clients do
   * not.
   */
  ISSUER_NOT_FOR_USE(
      CHAINS,
      "an authority whose extended key usage does not name the use: Java accepts it, other clients do not",
      PROBLEM),
  /**
   * An extended key usage that names any use and not this one: Java accepts it, other clients do
   * not.
   */
  ANY_USE_ALONE(
      CHAINS,
      "an extended key usage that names any use and not this one: Java accepts it, other clients do not",
      PROBLEM),
  /**
   * A certificate that names another issuer than the one that signed it: Java accepts it, other
   * clients do not.
   */
  ISSUER_IDENTIFIER_DIFFERS(
      CHAINS,
      "a certificate that names another issuer than the one that signed it: Java accepts it, other clients do not",
      PROBLEM),
  /** A certificate of version 1 or 2 with extensions. */
  EXTENSIONS_IN_OLD_VERSION(CHAINS, "a certificate of version 1 or 2 with extensions", PROBLEM),
  /** No subject, and alternative names that are not critical: Java refuses it. */
  NAMES_NOT_CRITICAL(
      CHAINS, "no subject, and alternative names that are not critical: Java refuses it", PROBLEM),
  /** A name with a NUL or another control character in it, which programs cut off or misread. */
  NAME_WITH_CONTROL(
      CERTIFICATES,
      "a name with a NUL or another control character in it, which programs cut off or misread",
      PROBLEM),
  /** A host that the authority may not sign for. */
  NAME_NOT_PERMITTED(CHAINS, "a host that the authority may not sign for", PROBLEM),
  /** A policy that an authority requires is missing: Java refuses it. */
  POLICY_NOT_VALID(
      CHAINS, "a policy that an authority requires is missing: Java refuses it", PROBLEM),
  /** A key usage that does not allow what the handshake needs. */
  KEY_USAGE_FORBIDS(CHAINS, "a key usage that does not allow what the handshake needs", PROBLEM),
  /** A critical extension that clients do not know: they refuse it. */
  UNKNOWN_CRITICAL_EXTENSION(
      CHAINS, "a critical extension that clients do not know: they refuse it", PROBLEM),
  /** Trust that holds an intermediate and no root: Java accepts that, most others do not. */
  TRUST_WITHOUT_ROOT(
      CHAINS,
      "trust that holds an intermediate and no root: Java accepts that, most others do not",
      PROBLEM),
  /** A certificate signed by itself, which the other side does not trust. */
  SELF_SIGNED_NOT_TRUSTED(
      CHAINS, "a certificate signed by itself, which the other side does not trust", PROBLEM),
  /** The chain leads to a root that the other side does not trust. */
  ROOT_NOT_TRUSTED(CHAINS, "the chain leads to a root that the other side does not trust", PROBLEM),
  /** An intermediate that is not sent along. */
  ISSUER_NOT_SENT(CHAINS, "an intermediate that is not sent along", PROBLEM),
  /** A certificate that is not for servers. */
  NOT_FOR_SERVERS(CHAINS, "a certificate that is not for servers", PROBLEM),
  /** A certificate that is not for clients. */
  NOT_FOR_CLIENTS(CHAINS, "a certificate that is not for clients", PROBLEM),
  /** A root that clients ignore. */
  ROOT_SENT(CHAINS, "a root that clients ignore", NOTE),
  /** A side sends certificates that are no part of its chain, or one twice. */
  CHAIN_SUPERFLUOUS(
      CHAINS, "a side sends certificates that are no part of its chain, or one twice", WARNING),
  /** Java refuses the chain for a reason of its own. */
  REFUSED_BY_PLATFORM(CHAINS, "Java refuses the chain for a reason of its own", PROBLEM),
  /** The security settings of this Java refuse it. */
  REFUSED_BY_POLICY(CHAINS, "the security settings of this Java refuse it", PROBLEM),
  /**
   * On a revocation list that lies with the other side's trust, in a log, or as the server itself
   * sends along.
   */
  REVOKED(
      CHAINS,
      "on a revocation list that lies with the other side's trust, in a log, or as the server itself sends along",
      PROBLEM),

  /** A private key, which no truststore needs. */
  KEY_LEFT_OUT(TRUSTSTORES, "a private key, which no truststore needs", NOTE),
  /** An end-entity certificate: its authority is trusted instead. */
  END_ENTITY_LEFT_OUT(
      TRUSTSTORES, "an end-entity certificate: its authority is trusted instead", NOTE),
  /** A certificate that the truststore holds already. */
  ALREADY_THERE(TRUSTSTORES, "a certificate that the truststore holds already", NOTE),
  /** A certificate that is trusted itself, as asked for. */
  NO_AUTHORITY(TRUSTSTORES, "a certificate that is trusted itself, as asked for", NOTE),
  /** Nobody is trusted. */
  TRUST_EMPTY(TRUSTSTORES, "nobody is trusted", PROBLEM),
  /** A truststore with a private key. */
  TRUST_HOLDS_KEY(TRUSTSTORES, "a truststore with a private key", PROBLEM),
  /** A truststore of which Java trusts nobody. */
  NOT_MARKED_AS_TRUSTED(TRUSTSTORES, "a truststore of which Java trusts nobody", PROBLEM),

  /** A request that asks for the right to sign others. */
  AUTHORITY_FLAG_ASKED(REQUESTS, "a request that asks for the right to sign others", WARNING),
  /** Names that were asked for and did not come back. */
  REPLY_NAMES_DROPPED(REQUESTS, "names that were asked for and did not come back", PROBLEM),
  /** A use that was asked for and did not come back. */
  REPLY_USE_MISSING(REQUESTS, "a use that was asked for and did not come back", PROBLEM),
  /** A certificate that may sign others came back. */
  REPLY_IS_AN_AUTHORITY(REQUESTS, "a certificate that may sign others came back", PROBLEM),
  /** Another subject than was asked for. */
  REPLY_SUBJECT_CHANGED(REQUESTS, "another subject than was asked for", WARNING),
  /** A shorter validity than was asked for, or than before. */
  REPLY_SHORTER_VALIDITY(
      REQUESTS, "a shorter validity than was asked for, or than before", WARNING),
  /** Another authority than before. */
  REPLY_LEADS_ELSEWHERE(REQUESTS, "another authority than before", WARNING),
  /** Names that nobody asked for. */
  REPLY_NAMES_ADDED(REQUESTS, "names that nobody asked for", NOTE),
  /** A part of what was to be compared that stayed closed. */
  NOT_COMPARED(COMPARISONS, "a part of what was to be compared that stayed closed", WARNING),
  /** A renewed certificate without hosts that the old one had. */
  RENEWED_WITHOUT_HOSTS(
      COMPARISONS, "a renewed certificate without hosts that the old one had", WARNING),
  /** A renewed certificate that ends before the old one. */
  RENEWED_AND_ENDS_EARLIER(
      COMPARISONS, "a renewed certificate that ends before the old one", WARNING),
  /** Neither a subject nor a host. */
  SUBJECT_ABSENT(REQUESTS, "neither a subject nor a host", PROBLEM),
  /** A part of the subject without a value. */
  SUBJECT_PART_EMPTY(REQUESTS, "a part of the subject without a value", PROBLEM),
  /** A part of the subject with characters that nobody sees. */
  SUBJECT_PART_UNPRINTABLE(
      REQUESTS, "a part of the subject with characters that nobody sees", PROBLEM),
  /** A part of the subject that can't be read. */
  SUBJECT_PART_UNREADABLE(REQUESTS, "a part of the subject that can't be read", PROBLEM),
  /** A part of the subject longer than X.520 allows. */
  SUBJECT_PART_TOO_LONG(REQUESTS, "a part of the subject longer than X.520 allows", PROBLEM),
  /** A subject that is too long for receivers. */
  SUBJECT_TOO_LONG(REQUESTS, "a subject that is too long for receivers", PROBLEM),
  /** A country that is no code of ISO 3166. */
  COUNTRY_UNKNOWN(REQUESTS, "a country that is no code of ISO 3166", PROBLEM),
  /** An e-mail address for a server, which authorities leave out. */
  EMAIL_FOR_SERVER(
      REQUESTS, "an e-mail address for a server, which authorities leave out", WARNING),
  /** More names than receivers take. */
  TOO_MANY_NAMES(REQUESTS, "more names than receivers take", PROBLEM),
  /** Rules were given, and no request is among the files. */
  NO_REQUEST(REQUESTS, "rules were given, and no request is among the files", WARNING),
  /** A rule of the receiver is broken: its country. */
  RULE_COUNTRY(REQUESTS, "a rule of the receiver is broken: its country", PROBLEM),
  /** A rule of the receiver is broken: its domains. */
  RULE_DOMAIN(REQUESTS, "a rule of the receiver is broken: its domains", PROBLEM),
  /** A rule of the receiver is broken: its e-mail addresses. */
  RULE_EMAIL(REQUESTS, "a rule of the receiver is broken: its e-mail addresses", PROBLEM),
  /** A rule of the receiver is broken: how many hosts it names. */
  RULE_HOST_COUNT(REQUESTS, "a rule of the receiver is broken: how many hosts it names", PROBLEM),
  /** A rule of the receiver is broken: hosts without a domain. */
  RULE_HOST_NOT_QUALIFIED(
      REQUESTS, "a rule of the receiver is broken: hosts without a domain", PROBLEM),
  /** A rule of the receiver is broken: its kind of key. */
  RULE_KEY(REQUESTS, "a rule of the receiver is broken: its kind of key", PROBLEM),
  /** A rule of the receiver is broken: the kinds of its names. */
  RULE_NAME_KIND(REQUESTS, "a rule of the receiver is broken: the kinds of its names", PROBLEM),
  /** A rule of the receiver is broken: a part of the subject with a fixed value. */
  RULE_PART_FIXED(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject with a fixed value",
      PROBLEM),
  /** A rule of the receiver is broken: a part of the subject that must be absent. */
  RULE_PART_FORBIDDEN(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject that must be absent",
      PROBLEM),
  /** A rule of the receiver is broken: the length of a part of the subject. */
  RULE_PART_LENGTH(
      REQUESTS, "a rule of the receiver is broken: the length of a part of the subject", PROBLEM),
  /** A rule of the receiver is broken: a part of the subject that must be there. */
  RULE_PART_MISSING(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject that must be there",
      PROBLEM),
  /** A rule of the receiver is broken: the form of a part of the subject. */
  RULE_PART_PATTERN(
      REQUESTS, "a rule of the receiver is broken: the form of a part of the subject", PROBLEM),
  /** A rule of the receiver is broken: a part of the subject that is there twice. */
  RULE_PART_REPEATED(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject that is there twice",
      PROBLEM),
  /** A rule of the receiver is broken: a place that is not spelled out. */
  RULE_PLACE_SHORTENED(
      REQUESTS, "a rule of the receiver is broken: a place that is not spelled out", PROBLEM),
  /** A rule of the receiver is broken: what it is for. */
  RULE_USE(REQUESTS, "a rule of the receiver is broken: what it is for", PROBLEM),
  /** A rule of the receiver is broken: wildcards. */
  RULE_WILDCARD(REQUESTS, "a rule of the receiver is broken: wildcards", PROBLEM),
  /** A rule of the receiver is broken: a host with and without www. */
  RULE_WWW(REQUESTS, "a rule of the receiver is broken: a host with and without www", PROBLEM),

  /** A name that the authority does not take from a request. */
  NAME_NOT_COPIED(AUTHORITIES, "a name that the authority does not take from a request", WARNING),
  /** The right to sign others, which no request gets. */
  AUTHORITY_FLAG_NOT_GRANTED(
      AUTHORITIES, "the right to sign others, which no request gets", WARNING),
  /** An extension that the authority does not take from a request. */
  EXTENSION_NOT_COPIED(
      AUTHORITIES, "an extension that the authority does not take from a request", NOTE),
  /** Another use than the request asks for. */
  USE_OVERRIDDEN(AUTHORITIES, "another use than the request asks for", NOTE),
  /**
   * A name that no certificate should hold: a wildcard over a registry, an address as a DNS name, a
   * URI with control characters or of a script.
   */
  NAME_NOT_ALLOWED(
      AUTHORITIES,
      "a name that no certificate should hold: a wildcard over a registry, an address as a DNS name, a URI with control characters or of a script",
      PROBLEM),
  /** A requested key whose private half can be computed, or that is no key. */
  BROKEN_KEY(
      AUTHORITIES,
      "a requested key whose private half can be computed, or that is no key",
      PROBLEM),
  /** A requested key of an unusual kind: signed only after a yes. */
  UNUSUAL_KEY(AUTHORITIES, "a requested key of an unusual kind: signed only after a yes", WARNING),
  /** A request signed with SHA-1: signed only after a yes; a problem with MD5. */
  WEAK_REQUEST_SIGNATURE(
      AUTHORITIES,
      "a request signed with SHA-1: signed only after a yes; a problem with MD5",
      WARNING,
      PROBLEM),
  /** A lifetime beyond the authority's own. */
  LIFETIME_CUT(AUTHORITIES, "a lifetime beyond the authority's own", WARNING),
  /** The register of an authority is not what its signed head says. */
  REGISTER_CHANGED(
      AUTHORITIES, "the register of an authority is not what its signed head says", PROBLEM),
  /** There is more than is shown. */
  NOT_ALL_SHOWN(AUTHORITIES, "there is more than is shown", NOTE),
  /** The records of an authority were moved from the files of its folder into a database. */
  RECORDS_MOVED(
      AUTHORITIES,
      "the records of an authority were moved from the files of its folder into a database",
      NOTE),
  /** The register was lost and made anew from the certificates. */
  REGISTER_REBUILT(
      AUTHORITIES, "the register was lost and made anew from the certificates", WARNING),
  /** The register lacked certificates that lie in the folder. */
  REGISTER_COMPLETED(
      AUTHORITIES, "the register lacked certificates that lie in the folder", WARNING),
  /** A certificate in the folder that the authority did not issue. */
  NOT_ISSUED_HERE(
      AUTHORITIES, "a certificate in the folder that the authority did not issue", WARNING),
  /** An authority without its revocation list. */
  REVOCATION_LIST_ABSENT(AUTHORITIES, "an authority without its revocation list", PROBLEM),
  /** A revocation list that lacks what the register says is revoked. */
  REVOCATION_LIST_BEHIND(
      AUTHORITIES, "a revocation list that lacks what the register says is revoked", PROBLEM),
  /** A revocation list that may no longer be relied on. */
  REVOCATION_LIST_EXPIRED(
      AUTHORITIES, "a revocation list that may no longer be relied on", PROBLEM),
  /** A revocation list that may be relied on for less than fourteen days. */
  REVOCATION_LIST_DUE(
      AUTHORITIES, "a revocation list that may be relied on for less than fourteen days", WARNING),
  /** A list that says nothing that counts, with the reason; a warning where another list counts. */
  REVOCATION_LIST_NOT_USABLE(
      AUTHORITIES,
      "a list that says nothing that counts, with the reason; a warning where another list counts",
      PROBLEM,
      WARNING),
  /** Lists were given, and none is of the authority that issued the certificate. */
  REVOCATION_NOT_CHECKED(
      AUTHORITIES,
      "lists were given, and none is of the authority that issued the certificate",
      PROBLEM),
  /** It was revoked before; nothing changed. */
  REVOKED_ALREADY(AUTHORITIES, "it was revoked before; nothing changed", NOTE),

  /** No trust was given: whether clients trust the server was not checked. */
  TRUST_NOT_CHECKED(
      PROBES, "no trust was given: whether clients trust the server was not checked", WARNING),
  /** The server asks for a client's certificate. */
  CLIENT_CERTIFICATE_ASKED(PROBES, "the server asks for a client's certificate", NOTE),
  /** The server accepts the credential that was shown. */
  CLIENT_CERTIFICATE_ACCEPTED(PROBES, "the server accepts the credential that was shown", NOTE),
  /** The server requires a client's certificate. */
  CLIENT_CERTIFICATE_REQUIRED(PROBES, "the server requires a client's certificate", PROBLEM),
  /** The server refuses the credential that was shown. */
  CLIENT_CERTIFICATE_REFUSED(PROBES, "the server refuses the credential that was shown", PROBLEM),
  /** The credential given was not shown: the server did not ask for one like it. */
  CLIENT_CERTIFICATE_NOT_SHOWN(
      PROBES,
      "the credential given was not shown: the server did not ask for one like it",
      WARNING),
  /** After the handshake, the service does not give what was asked for. */
  CLIENT_NOT_SERVED(
      PROBES, "after the handshake, the service does not give what was asked for", WARNING),
  /** A server shows clients that can't use its first certificate another one. */
  SECOND_CERTIFICATE(
      PROBES, "a server shows clients that can't use its first certificate another one", NOTE),
  /** The server shows the certificate that was deployed. */
  AS_EXPECTED(PROBES, "the server shows the certificate that was deployed", NOTE),
  /** The server shows another certificate than was deployed. */
  NOT_AS_EXPECTED(PROBES, "the server shows another certificate than was deployed", PROBLEM),
  /** A server sends a certificate that Java reads and Symbolon does not. */
  SENT_CERTIFICATE_UNREADABLE(
      PROBES, "a server sends a certificate that Java reads and Symbolon does not", PROBLEM),
  /** A server takes SSL 3.0. */
  BROKEN_PROTOCOL_VERSION(PROBES, "a server takes SSL 3.0", PROBLEM),
  /** A server takes TLS 1.0 or 1.1. */
  OLD_PROTOCOL_VERSION(PROBES, "a server takes TLS 1.0 or 1.1", WARNING),
  /** A server takes cipher suites that are broken. */
  BROKEN_CIPHER_SUITE(PROBES, "a server takes cipher suites that are broken", PROBLEM),
  /** A server takes cipher suites that are out of date. */
  OLD_CIPHER_SUITE(PROBES, "a server takes cipher suites that are out of date", WARNING),
  /** A server takes cipher suites without forward secrecy. */
  NO_FORWARD_SECRECY(PROBES, "a server takes cipher suites without forward secrecy", NOTE),
  /** A version, or its suites, could not be found out. */
  VERSION_NOT_ASKED(PROBES, "a version, or its suites, could not be found out", WARNING),
  /** The addresses of one name do not show the same. */
  ADDRESSES_DIFFER(PROBES, "the addresses of one name do not show the same", PROBLEM),
  /** An address where nobody answers. */
  ADDRESS_WITHOUT_ANSWER(PROBES, "an address where nobody answers", WARNING),
  /** A name with more than 16 addresses. */
  ADDRESSES_NOT_PROBED(PROBES, "a name with more than 16 addresses", WARNING),
  /** Protocol versions and cipher suites are not asked for, because that would do harm. */
  VERSIONS_LEFT_OUT(
      PROBES,
      "protocol versions and cipher suites are not asked for, because that would do harm",
      NOTE),
  /** A service that begins in clear text does not switch to TLS. */
  NO_SWITCH_TO_TLS(PROBES, "a service that begins in clear text does not switch to TLS", PROBLEM),
  /** The status that a server sends along is out of date. */
  STAPLED_EXPIRED(PROBES, "the status that a server sends along is out of date", PROBLEM),
  /** The authority does not know the certificate. */
  STAPLED_UNKNOWN(PROBES, "the authority does not know the certificate", PROBLEM),
  /** The status is of another certificate. */
  STAPLED_OF_ANOTHER(PROBES, "the status is of another certificate", PROBLEM),
  /** The status is not signed by the authority. */
  STAPLED_SIGNATURE_WRONG(PROBES, "the status is not signed by the authority", PROBLEM),
  /** The status is an error message. */
  STAPLED_ERROR(PROBES, "the status is an error message", PROBLEM),
  /** The status can't be read. */
  STAPLED_DAMAGED(PROBES, "the status can't be read", PROBLEM),
  /** The status could not be checked. */
  STAPLED_NOT_CHECKED(PROBES, "the status could not be checked", WARNING),
  /** Certificates that nobody vouches for were saved. */
  TRUST_ON_FIRST_USE(PROBES, "certificates that nobody vouches for were saved", WARNING),
  /** Where the certificates that were sent are. */
  SENT_SAVED(PROBES, "where the certificates that were sent are", NOTE),
  /** The server sent no certificate. */
  NOTHING_TO_SAVE(PROBES, "the server sent no certificate", PROBLEM),

  /** More certificates, or larger ones, than the other side accepts. */
  TOO_MUCH_SENT(
      HANDSHAKES, "more certificates, or larger ones, than the other side accepts", PROBLEM),
  /** What answers does not speak TLS. */
  NO_TLS(HANDSHAKES, "what answers does not speak TLS", PROBLEM),
  /** The sides have no version of TLS in common. */
  NO_COMMON_PROTOCOL(HANDSHAKES, "the sides have no version of TLS in common", PROBLEM),
  /** The sides have no cipher suite in common. */
  NO_COMMON_CIPHER_SUITE(HANDSHAKES, "the sides have no cipher suite in common", PROBLEM),
  /** The server knows no host of this name. */
  HOST_UNKNOWN_TO_SERVER(HANDSHAKES, "the server knows no host of this name", PROBLEM),
  /** The other side closed the connection during the handshake. */
  CLOSED_DURING_HANDSHAKE(
      HANDSHAKES, "the other side closed the connection during the handshake", PROBLEM),
  /** The other side fell silent during the handshake. */
  HANDSHAKE_STALLED(HANDSHAKES, "the other side fell silent during the handshake", PROBLEM),
  /** The handshake failed for a reason of its own. */
  HANDSHAKE_FAILED(HANDSHAKES, "the handshake failed for a reason of its own", PROBLEM),
  /** The client shows no certificate, and the server requires one. */
  NO_CLIENT_CERTIFICATE(
      HANDSHAKES, "the client shows no certificate, and the server requires one", PROBLEM),
  /** The server does not name the authority of the client's certificate. */
  CLIENT_AUTHORITY_NOT_NAMED(
      HANDSHAKES, "the server does not name the authority of the client's certificate", PROBLEM),
  /** A rehearsal without a host. */
  HOST_NOT_CHECKED(HANDSHAKES, "a rehearsal without a host", WARNING),
  /** A rehearsal in which the server trusts nobody: TLS one-way. */
  CLIENT_CERTIFICATE_NOT_ASKED(
      HANDSHAKES, "a rehearsal in which the server trusts nobody: TLS one-way", NOTE),
  /** More than 400 pairs at once: not each of them had a handshake. */
  PAIRS_DEDUCED(HANDSHAKES, "more than 400 pairs at once: not each of them had a handshake", NOTE),
  /** This client is served, one with the root alone is not. */
  CLIENT_BRINGS_INTERMEDIATE(
      HANDSHAKES, "this client is served, one with the root alone is not", WARNING),
  /** A client with its system's roots alone refuses the server. */
  NOT_KNOWN_TO_SYSTEMS(
      HANDSHAKES, "a client with its system's roots alone refuses the server", NOTE),
  /** A trusted peer that a rule does not accept. */
  PEER_RULE_REFUSED(HANDSHAKES, "a trusted peer that a rule does not accept", PROBLEM),
  /** A reloading context keeps what it has. */
  NOT_RELOADED(HANDSHAKES, "a reloading context keeps what it has", PROBLEM),
  /** A new chain lacks an intermediate that the old one had. */
  CHAIN_SHORTER(HANDSHAKES, "a new chain lacks an intermediate that the old one had", PROBLEM),
  /** A new setup makes no handshake with itself. */
  NO_HANDSHAKE(HANDSHAKES, "a new setup makes no handshake with itself", PROBLEM),
  /** A reloaded certificate no longer covers a host. */
  HOST_DROPPED(HANDSHAKES, "a reloaded certificate no longer covers a host", WARNING),

  /** A file of authorities that counts for clients and for servers. */
  TRUST_SHARED(
      SERVERS, "a file of authorities that a server uses for its clients and for others", WARNING),
  /** A setting that the server does not heed. */
  SETTING_IGNORED(SERVERS, "a setting that the server does not heed", WARNING, PROBLEM),
  /** A place or port for TLS that speaks clear text all the same. */
  CLEAR_ON_TLS_PORT(
      SERVERS, "a place or port for TLS that speaks clear text all the same", PROBLEM, WARNING),
  /** A site that is written and that the server does not load. */
  SITE_NOT_ENABLED(SERVERS, "a site that is written and that the server does not load", NOTE),
  /** A module that the settings need and that the server does not load. */
  MODULE_NOT_ENABLED(
      SERVERS, "a module that the settings need and that the server does not load", PROBLEM),
  /** A place for TLS at a port that nothing opens. */
  LISTEN_MISSING(SERVERS, "a place for TLS at a port that nothing opens", PROBLEM),
  /** Revocation lists that are named and that nobody looks at. */
  LISTS_NOT_CHECKED(
      SERVERS, "revocation lists that are named and that nobody looks at", PROBLEM, WARNING),
  /** A port in clear text that serves content or lets clients log in, with no redirect. */
  CLEAR_TEXT_OPEN(
      SERVERS,
      "a port in clear text that serves content or lets clients log in, with no redirect",
      WARNING,
      NOTE),
  /** A strict transport header that an inner block drops. */
  STRICT_TRANSPORT_LOST(SERVERS, "a strict transport header that an inner block drops", WARNING),
  /** A server that asks for clients' certificates and trusts nobody. */
  VERIFY_WITHOUT_TRUST(
      SERVERS, "a server that asks for clients' certificates and trusts nobody", PROBLEM),
  /** A server that knows clients' authorities and asks for no certificate. */
  TRUST_WITHOUT_VERIFY(
      SERVERS, "a server that knows clients' authorities and asks for no certificate", WARNING),
  /** A server that accepts fewer intermediates than its clients have. */
  DEPTH_TOO_SMALL(
      SERVERS, "a server that accepts fewer intermediates than its clients have", PROBLEM),
  /** A place that takes TLS 1.1 or older. */
  OLD_PROTOCOLS(SERVERS, "a place that takes TLS 1.1 or older", WARNING),
  /** A place that does not take TLS 1.3. */
  NEW_PROTOCOL_OFF(SERVERS, "a place that does not take TLS 1.3", NOTE),
  /** A file that the account of the server can't read. */
  ACCOUNT_CANNOT_READ(SERVERS, "a file that the account of the server can't read", PROBLEM),
  /** A settings file that another program writes again. */
  MANAGED_ELSEWHERE(SERVERS, "a settings file that another program writes again", WARNING),
  /** A copy of a settings file that the server loads as well. */
  BACKUP_LOADED(SERVERS, "a copy of a settings file that the server loads as well", WARNING),
  /** A setting whose value is known only while the server runs: not checked. */
  VALUE_NOT_KNOWN(
      SERVERS, "a setting whose value is known only while the server runs: not checked", NOTE),
  /** Files with which this server would not start, or refuse its clients. */
  SERVER_REFUSES(
      SERVERS, "files with which this server would not start, or refuse its clients", PROBLEM),
  /** Clients without a certificate get in; the application has to look. */
  OPTIONAL_CLIENTS(
      SERVERS, "clients without a certificate get in; the application has to look", NOTE),
  /** Another place of the server shows the renewed certificate as well. */
  RENEWED_ELSEWHERE(
      SERVERS, "another place of the server shows the renewed certificate as well", NOTE),
  /** Client certificates of any issuer are accepted; the application has to verify them. */
  ANY_CERTIFICATE(
      SERVERS,
      "client certificates of any issuer are accepted; the application has to verify them",
      WARNING),
  /** A port that another program listens on. */
  PORT_TAKEN(SERVERS, "a port that another program listens on", PROBLEM),
  /** A password that stands in a settings file. */
  PASSWORD_IN_SETTINGS(SERVERS, "a password that stands in a settings file", NOTE),
  /** No client's files were given, so that no handshake with one was made. */
  CLIENTS_NOT_REHEARSED(
      SERVERS, "no client's files were given, so that no handshake with one was made", NOTE),
  /** A client's files that no server has accepted yet. */
  CLIENT_NOT_PROVEN(SERVERS, "a client's files that no server has accepted yet", NOTE, WARNING),
  /** A server without a command that checks its settings. */
  NO_OWN_CHECK(SERVERS, "a server without a command that checks its settings", NOTE),

  /** A server did not take files that were renewed. */
  NEW_FILES_NOT_TAKEN(AUTOMATIC, "a server did not take files that were renewed", PROBLEM),
  /** What an authority says of when to renew can't be used; the own rule decides. */
  RENEWAL_ADVICE_UNUSABLE(
      AUTOMATIC,
      "what an authority says of when to renew can't be used; the own rule decides",
      NOTE),
  /** A certificate was due and not renewed. */
  RENEWAL_FAILED(AUTOMATIC, "a certificate was due and not renewed", PROBLEM),
  /** A certificate was renewed, and a server that is to show it does not. */
  RENEWAL_NOT_SHOWN(
      AUTOMATIC, "a certificate was renewed, and a server that is to show it does not", PROBLEM),
  /** A server that showed a certificate of the account shows another one now. */
  RENEWAL_PLACE_CHANGED(
      AUTOMATIC,
      "a server that showed a certificate of the account was given another one by somebody",
      PROBLEM),
  /** A server's certificate comes from an account, and its place could not be kept on record. */
  RENEWAL_NOT_RECORDED(
      AUTOMATIC,
      "a server's certificate comes from an account, and renewals of the account do not reach the"
          + " server",
      WARNING),
  /** A certificate that a person signs: its request is ready, or its reply not yet in use. */
  RENEWAL_WAITS(
      AUTOMATIC,
      "a certificate that a person signs: its request is ready, or its reply not yet in use; a"
          + " problem once the certificate has ended",
      WARNING,
      PROBLEM),

  /** A keystore was opened with a wrong password. */
  PASSWORD_WRONG(LOGS, "a keystore was opened with a wrong password", PROBLEM),
  /** A keystore or key is sealed, and a program was given no password. */
  PASSWORD_ABSENT(
      LOGS, "a keystore or key is sealed, and a program was given no password", PROBLEM),
  /** A PEM file that a program could not read to its end. */
  PEM_NOT_READ(LOGS, "a PEM file that a program could not read to its end", PROBLEM),
  /** A server could not use its certificate or key, and does not say why. */
  SERVER_FILES_NOT_USED(
      LOGS, "a server could not use its certificate or key, and does not say why", PROBLEM),
  /** A keystore has no private key under the alias that a program looks for. */
  ALIAS_NOT_FOUND(
      LOGS, "a keystore has no private key under the alias that a program looks for", PROBLEM),
  /** A program was given a file in another form than it reads. */
  OTHER_FORMAT_WANTED(LOGS, "a program was given a file in another form than it reads", PROBLEM),
  /** A file that a program was told to use is not there. */
  FILE_ABSENT(LOGS, "a file that a program was told to use is not there", PROBLEM),
  /** A program may not read a file that it was told to use. */
  FILE_NOT_READABLE(LOGS, "a program may not read a file that it was told to use", PROBLEM),
  /** A program does not take its configuration. */
  SETTING_WRONG(LOGS, "a program does not take its configuration", PROBLEM),
  /** A server refuses a key file that others can read. */
  KEY_FILE_TOO_OPEN(LOGS, "a server refuses a key file that others can read", PROBLEM),
  /** A certificate that is for another use. */
  WRONG_USE(LOGS, "a certificate that is for another use", PROBLEM),
  /** The other side does not trust the certificate. */
  PEER_DOES_NOT_TRUST(LOGS, "the other side does not trust the certificate", PROBLEM),
  /** A failure of TLS that is not known: it is shown as it is. */
  NOT_EXPLAINED(LOGS, "a failure of TLS that is not known: it is shown as it is", WARNING),

  /** An argument that is outside what is accepted. */
  INVALID_ARGUMENT(FAILURES, "an argument that is outside what is accepted", PROBLEM),
  /** Bytes that are not what they claim to be. */
  NOT_UNDERSTOOD(FAILURES, "bytes that are not what they claim to be", PROBLEM, WARNING),
  /** What was asked for is not among what was given. */
  NOT_FOUND(FAILURES, "what was asked for is not among what was given", PROBLEM, WARNING),
  /** More than one thing answers to what was asked for. */
  AMBIGUOUS(FAILURES, "more than one thing answers to what was asked for", PROBLEM, WARNING),
  /** Something that must be there is missing. */
  INCOMPLETE(FAILURES, "something that must be there is missing", PROBLEM, WARNING),
  /** A key and a certificate that should belong together do not. */
  DOES_NOT_FIT(
      FAILURES, "a key and a certificate that should belong together do not", PROBLEM, WARNING),
  /** The target exists already. */
  EXISTS(FAILURES, "the target exists already", PROBLEM),
  /** The target can't be written. */
  NOT_WRITABLE(FAILURES, "the target can't be written", PROBLEM),
  /** Somebody else controls what would have to be believed or started. */
  NOT_TRUSTED(
      FAILURES,
      "somebody else controls what would have to be believed or started",
      PROBLEM,
      WARNING),
  /** Somebody else has changed a file in between. */
  CHANGED(FAILURES, "somebody else has changed a file in between", PROBLEM),
  /** Nobody answered at a network address. */
  NO_ANSWER(FAILURES, "nobody answered at a network address", PROBLEM);

  private final FindingTopic topic;
  private final String meaning;

  @SuppressWarnings("ImmutableEnumChecker") // a copy that nobody changes
  private final List<Level> levels;

  FindingKind(FindingTopic topic, String meaning, Level... levels) {
    this.topic = topic;
    this.meaning = meaning;
    this.levels = List.of(levels);
  }

  /** {@return the stable id: kebab-case} */
  public String id() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** {@return what it is about} */
  public FindingTopic topic() {
    return topic;
  }

  /** {@return what it means in general, as a part of a sentence} */
  public String meaning() {
    return meaning;
  }

  /** {@return how much it usually matters} */
  public Level level() {
    return levels.get(0);
  }

  /** {@return every level that it can have, the usual one first} */
  public List<Level> levels() {
    return levels;
  }

  /** {@return the kind that says that something failed for this reason} */
  public static FindingKind of(Reason reason) {
    return valueOf(reason.name());
  }

  /** {@return the kind with this id} */
  public static Optional<FindingKind> ofId(String id) {
    for (FindingKind kind : values()) {
      if (kind.id().equals(id)) {
        return Optional.of(kind);
      }
    }
    return Optional.empty();
  }
}
