// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import static io.symbolon.finding.FindingTopic.AUTHORITIES;
import static io.symbolon.finding.FindingTopic.CERTIFICATES;
import static io.symbolon.finding.FindingTopic.CHAINS;
import static io.symbolon.finding.FindingTopic.CONVERSIONS;
import static io.symbolon.finding.FindingTopic.FAILURES;
import static io.symbolon.finding.FindingTopic.FILES;
import static io.symbolon.finding.FindingTopic.HANDSHAKES;
import static io.symbolon.finding.FindingTopic.LOGS;
import static io.symbolon.finding.FindingTopic.PROBES;
import static io.symbolon.finding.FindingTopic.PROTECTION;
import static io.symbolon.finding.FindingTopic.REQUESTS;
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
  UNREADABLE(
      FILES,
      "a file or folder does not exist, or the system does not let you read it",
      PROBLEM,
      WARNING),
  DAMAGED(FILES, "content is cut off or was changed", PROBLEM, WARNING),
  LOCKED(FILES, "no password given opens it", PROBLEM, WARNING),
  LIMIT_PASSED(FILES, "a size, or a number of rounds, beyond what is read", PROBLEM, WARNING),
  UNSUPPORTED(FILES, "a format or an algorithm that is not read", PROBLEM, WARNING),
  NOT_A_FILE(
      FILES,
      "a device, a pipe, a socket, a file that the system makes up, or another account's link to a file that is not that account's: not read; a note in a folder",
      PROBLEM,
      NOTE),
  EMPTY_FOLDER(FILES, "a folder without a file", NOTE),
  EMPTY_FILE(FILES, "a file without content; a note in a folder", PROBLEM, NOTE),
  NOTHING_KNOWN(FILES, "no key and no certificate in a file; a note in a folder", PROBLEM, NOTE),
  EMPTY_STORE(FILES, "a keystore or bundle without any entry", WARNING),
  MANGLED_TEXT(
      FILES,
      "text that mail or an editor changed, read all the same; the place tells the line",
      NOTE),
  TEXT_LAYOUT(
      FILES,
      "line ends of Windows, or text around the blocks: nothing that readers stumble over",
      NOTE),
  MORE_FINDINGS(FILES, "a file with thousands of findings; the rest is not listed", NOTE),
  UNKNOWN_BLOCK(FILES, "a PEM block that is none of ours", NOTE),
  NO_INTEGRITY_CHECK(FILES, "a store that carries no check against changes", NOTE),
  INTEGRITY_NOT_CHECKED(FILES, "a JKS or JCEKS whose password was not given", WARNING),
  NOT_READ_TO_ITS_END(FILES, "a JCEKS with a secret key, behind which nothing is read", WARNING),
  CHECKS_STOPPED(
      FILES,
      "signatures that were not checked, because the files ask for more work than files of their size do",
      PROBLEM),

  WEAK_PASSWORD(PROTECTION, "a keystore sealed with fewer than 8 characters", WARNING),
  WEAK_PROTECTION(
      PROTECTION,
      "a key whose password can be guessed fast: JKS, JCEKS, SHA-1 with 3DES, PEM header lines",
      WARNING),
  FEW_ROUNDS(PROTECTION, "a sound protection with fewer than 10,000 rounds", NOTE),
  OPEN_KEY(PROTECTION, "a private key that was written open, as asked for", WARNING),
  KEY_PASSWORD_DIFFERS(
      PROTECTION, "a PKCS#12 whose key has another password than the store", WARNING),
  PASSWORD_NOT_ASCII(PROTECTION, "a password that programs spell in different ways", WARNING),
  FEW_READERS(PROTECTION, "a PKCS#12 with PBMAC1", WARNING),
  KEY_READABLE_BY_OTHERS(
      PROTECTION,
      "an open private key with too wide rights; a warning for the group",
      PROBLEM,
      WARNING),
  RIGHTS_NOT_CHECKED(PROTECTION, "the file system has no such rights", NOTE),
  PASSWORD_FILE_OPEN(PROTECTION, "a password file that others can read or change", WARNING),
  OPEN_KEY_KEPT(PROTECTION, "a replaced file with an open key is kept for undo", WARNING),
  RIGHTS_NARROWED(
      PROTECTION,
      "who could read the replaced file can't read the new one, since a private key is in it",
      WARNING),
  READABLE_BY_GROUP(PROTECTION, "a group may read a file with a private key", NOTE),

  PUBLIC_KEY_UNKNOWN(
      CONVERSIONS, "a private key whose public half was asked for and can't be found", WARNING),
  LEFT_OUT(CONVERSIONS, "what the format has no place for", WARNING),
  ROOT_LEFT_OUT(CONVERSIONS, "the root, which the other side has already", NOTE),
  NAMES_LEFT_OUT(CONVERSIONS, "aliases that the format has no place for", NOTE),
  DATES_LEFT_OUT(CONVERSIONS, "dates of entries that the format has no place for", NOTE),
  KEY_ATTRIBUTES_LEFT_OUT(
      CONVERSIONS, "attributes of a key that the format has no place for", NOTE),
  KEY_PASSWORD_LEFT(
      CONVERSIONS, "the key had a password of its own and gets that of the store", NOTE),
  KEY_PASSWORD_KEPT(CONVERSIONS, "the key keeps a password of its own", NOTE),
  BECOMES_TRUSTED(CONVERSIONS, "a certificate that a keystore marks as trusted", NOTE),
  ALIAS_IN_LOWER_CASE(CONVERSIONS, "a JKS keeps aliases in lower case", NOTE),

  KEY_WITHOUT_CERTIFICATE(CERTIFICATES, "nothing here belongs to the key", WARNING),
  KEY_IN_SEVERAL_FILES(CERTIFICATES, "the same private key more than once", WARNING),
  KEY_DOES_NOT_FIT(CERTIFICATES, "the key claims a certificate, but can't prove it", PROBLEM),
  FIT_NOT_CHECKED(CERTIFICATES, "whether key and certificate fit could not be checked", WARNING),
  PAIRING_NOT_CHECKED(
      CERTIFICATES, "which certificate belongs to a key could not be checked", WARNING),
  SEVERAL_CERTIFICATES(CERTIFICATES, "a renewed certificate beside the old one", NOTE),
  DUPLICATE(CERTIFICATES, "a certificate more than once", NOTE),
  WAITING_FOR_REPLY(
      CERTIFICATES, "a key in a keystore, for which no authority's certificate is here", NOTE),
  EXPIRED(CERTIFICATES, "its validity is over", PROBLEM),
  NOT_YET_VALID(CERTIFICATES, "its validity has not begun", PROBLEM),
  EXPIRES_SOON(CERTIFICATES, "its validity ends within 30 days", WARNING),
  WEAK_KEY(CERTIFICATES, "a key that is refused today", PROBLEM),
  WEAK_SIGNATURE(CERTIFICATES, "a signature that is refused today", PROBLEM),
  NO_ALTERNATIVE_NAMES(
      CERTIFICATES, "a server's certificate that names no host where clients look", PROBLEM),
  HOST_NOT_COVERED(
      CERTIFICATES, "the certificate is not for the host that was asked about", PROBLEM),
  HOST_COVERED(CERTIFICATES, "the certificate is for the host that was asked about", NOTE),
  DAMAGED_EXTENSION(CERTIFICATES, "a known extension that can't be read", PROBLEM),
  REQUEST_SIGNATURE_BROKEN(CERTIFICATES, "a request that was changed", PROBLEM),

  SIGNATURE_NOT_CHECKED(
      CHAINS, "a signature in a chain that could not be checked: the chain is not proven", PROBLEM),
  END_ENTITY_IN_BUNDLE(CHAINS, "the server's own certificate among the authorities'", NOTE),
  CHAIN_ORDER(
      CHAINS, "certificates not in the order of the chain; a warning in a probe", NOTE, WARNING),
  ISSUER_ABSENT(
      CHAINS,
      "the certificate that issued an end-entity is missing; a problem for the chain of a key",
      PROBLEM,
      WARNING),
  ROOT_ABSENT(CHAINS, "the chain ends below a certificate that is not here", WARNING),
  INCOMPLETE_CHAIN(CHAINS, "joined without the rest of its chain, as asked for", WARNING),
  ISSUER_OF_SAME_NAME(CHAINS, "an authority of the right name whose key did not sign", WARNING),
  ISSUER_IS_NO_AUTHORITY(CHAINS, "signed by a certificate that is no authority", PROBLEM),
  ISSUER_MAY_NOT_SIGN(CHAINS, "signed by an authority whose key usage does not allow it", PROBLEM),
  PATH_TOO_LONG(CHAINS, "more authorities below another than it allows", PROBLEM),
  ISSUER_NOT_FOR_USE(
      CHAINS,
      "an authority whose extended key usage does not name the use: Java accepts it, other clients do not",
      PROBLEM),
  ANY_USE_ALONE(
      CHAINS,
      "an extended key usage that names any use and not this one: Java accepts it, other clients do not",
      PROBLEM),
  ISSUER_IDENTIFIER_DIFFERS(
      CHAINS,
      "a certificate that names another issuer than the one that signed it: Java accepts it, other clients do not",
      PROBLEM),
  EXTENSIONS_IN_OLD_VERSION(CHAINS, "a certificate of version 1 or 2 with extensions", PROBLEM),
  NAMES_NOT_CRITICAL(
      CHAINS, "no subject, and alternative names that are not critical: Java refuses it", PROBLEM),
  NAME_NOT_PERMITTED(CHAINS, "a host that the authority may not sign for", PROBLEM),
  POLICY_NOT_VALID(
      CHAINS, "a policy that an authority requires is missing: Java refuses it", PROBLEM),
  KEY_USAGE_FORBIDS(CHAINS, "a key usage that does not allow what the handshake needs", PROBLEM),
  UNKNOWN_CRITICAL_EXTENSION(
      CHAINS, "a critical extension that clients do not know: they refuse it", PROBLEM),
  TRUST_WITHOUT_ROOT(
      CHAINS,
      "trust that holds an intermediate and no root: Java accepts that, most others do not",
      PROBLEM),
  SELF_SIGNED_NOT_TRUSTED(
      CHAINS, "a certificate signed by itself, which the other side does not trust", PROBLEM),
  ROOT_NOT_TRUSTED(CHAINS, "the chain leads to a root that the other side does not trust", PROBLEM),
  ISSUER_NOT_SENT(CHAINS, "an intermediate that is not sent along", PROBLEM),
  NOT_FOR_SERVERS(CHAINS, "a certificate that is not for servers", PROBLEM),
  NOT_FOR_CLIENTS(CHAINS, "a certificate that is not for clients", PROBLEM),
  ROOT_SENT(CHAINS, "a root that clients ignore", NOTE),
  CHAIN_SUPERFLUOUS(
      CHAINS, "a side sends certificates that are no part of its chain, or one twice", WARNING),
  REFUSED_BY_PLATFORM(CHAINS, "Java refuses the chain for a reason of its own", PROBLEM),
  REFUSED_BY_POLICY(CHAINS, "the security settings of this Java refuse it", PROBLEM),
  REVOKED(
      CHAINS,
      "on a revocation list that lies with the other side's trust, in a log, or as the server itself sends along",
      PROBLEM),

  KEY_LEFT_OUT(TRUSTSTORES, "a private key, which no truststore needs", NOTE),
  END_ENTITY_LEFT_OUT(
      TRUSTSTORES, "an end-entity certificate: its authority is trusted instead", NOTE),
  ALREADY_THERE(TRUSTSTORES, "a certificate that the truststore holds already", NOTE),
  NO_AUTHORITY(TRUSTSTORES, "a certificate that is trusted itself, as asked for", NOTE),
  TRUST_EMPTY(TRUSTSTORES, "nobody is trusted", PROBLEM),
  TRUST_HOLDS_KEY(TRUSTSTORES, "a truststore with a private key", PROBLEM),
  NOT_MARKED_AS_TRUSTED(TRUSTSTORES, "a truststore of which Java trusts nobody", PROBLEM),

  AUTHORITY_FLAG_ASKED(REQUESTS, "a request that asks for the right to sign others", WARNING),
  REPLY_NAMES_DROPPED(REQUESTS, "names that were asked for and did not come back", PROBLEM),
  REPLY_USE_MISSING(REQUESTS, "a use that was asked for and did not come back", PROBLEM),
  REPLY_IS_AN_AUTHORITY(REQUESTS, "a certificate that may sign others came back", PROBLEM),
  REPLY_SUBJECT_CHANGED(REQUESTS, "another subject than was asked for", WARNING),
  REPLY_SHORTER_VALIDITY(
      REQUESTS, "a shorter validity than was asked for, or than before", WARNING),
  REPLY_LEADS_ELSEWHERE(REQUESTS, "another authority than before", WARNING),
  REPLY_NAMES_ADDED(REQUESTS, "names that nobody asked for", NOTE),
  SUBJECT_ABSENT(REQUESTS, "neither a subject nor a host", PROBLEM),
  SUBJECT_PART_EMPTY(REQUESTS, "a part of the subject without a value", PROBLEM),
  SUBJECT_PART_UNPRINTABLE(
      REQUESTS, "a part of the subject with characters that nobody sees", PROBLEM),
  SUBJECT_PART_UNREADABLE(REQUESTS, "a part of the subject that can't be read", PROBLEM),
  SUBJECT_PART_TOO_LONG(REQUESTS, "a part of the subject longer than X.520 allows", PROBLEM),
  SUBJECT_TOO_LONG(REQUESTS, "a subject that is too long for receivers", PROBLEM),
  COUNTRY_UNKNOWN(REQUESTS, "a country that is no code of ISO 3166", PROBLEM),
  TOO_MANY_NAMES(REQUESTS, "more names than receivers take", PROBLEM),
  NO_REQUEST(REQUESTS, "rules were given, and no request is among the files", WARNING),
  RULE_COUNTRY(REQUESTS, "a rule of the receiver is broken: its country", PROBLEM),
  RULE_DOMAIN(REQUESTS, "a rule of the receiver is broken: its domains", PROBLEM),
  RULE_EMAIL(REQUESTS, "a rule of the receiver is broken: its e-mail addresses", PROBLEM),
  RULE_HOST_COUNT(REQUESTS, "a rule of the receiver is broken: how many hosts it names", PROBLEM),
  RULE_HOST_NOT_QUALIFIED(
      REQUESTS, "a rule of the receiver is broken: hosts without a domain", PROBLEM),
  RULE_KEY(REQUESTS, "a rule of the receiver is broken: its kind of key", PROBLEM),
  RULE_NAME_KIND(REQUESTS, "a rule of the receiver is broken: the kinds of its names", PROBLEM),
  RULE_PART_FIXED(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject with a fixed value",
      PROBLEM),
  RULE_PART_FORBIDDEN(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject that must be absent",
      PROBLEM),
  RULE_PART_LENGTH(
      REQUESTS, "a rule of the receiver is broken: the length of a part of the subject", PROBLEM),
  RULE_PART_MISSING(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject that must be there",
      PROBLEM),
  RULE_PART_PATTERN(
      REQUESTS, "a rule of the receiver is broken: the form of a part of the subject", PROBLEM),
  RULE_PART_REPEATED(
      REQUESTS,
      "a rule of the receiver is broken: a part of the subject that is there twice",
      PROBLEM),
  RULE_PLACE_SHORTENED(
      REQUESTS, "a rule of the receiver is broken: a place that is not spelled out", PROBLEM),
  RULE_USE(REQUESTS, "a rule of the receiver is broken: what it is for", PROBLEM),
  RULE_WILDCARD(REQUESTS, "a rule of the receiver is broken: wildcards", PROBLEM),
  RULE_WWW(REQUESTS, "a rule of the receiver is broken: a host with and without www", PROBLEM),

  NAME_NOT_COPIED(AUTHORITIES, "a name that the authority does not take from a request", WARNING),
  AUTHORITY_FLAG_NOT_GRANTED(
      AUTHORITIES, "the right to sign others, which no request gets", WARNING),
  EXTENSION_NOT_COPIED(
      AUTHORITIES, "an extension that the authority does not take from a request", NOTE),
  USE_OVERRIDDEN(AUTHORITIES, "another use than the request asks for", NOTE),
  NAME_NOT_ALLOWED(
      AUTHORITIES,
      "a name that no certificate should hold: a wildcard over a registry, an address as a DNS name, a URI with control characters or of a script",
      PROBLEM),
  BROKEN_KEY(
      AUTHORITIES,
      "a requested key whose private half can be computed, or that is no key",
      PROBLEM),
  UNUSUAL_KEY(AUTHORITIES, "a requested key of an unusual kind: signed only after a yes", WARNING),
  WEAK_REQUEST_SIGNATURE(
      AUTHORITIES,
      "a request signed with SHA-1: signed only after a yes; a problem with MD5",
      WARNING,
      PROBLEM),
  LIFETIME_CUT(AUTHORITIES, "a lifetime beyond the authority's own", WARNING),
  REGISTER_CHANGED(
      AUTHORITIES, "the register of an authority is not what its signed head says", PROBLEM),
  REGISTER_REBUILT(
      AUTHORITIES, "the register was lost and made anew from the certificates", WARNING),
  REGISTER_COMPLETED(
      AUTHORITIES, "the register lacked certificates that lie in the folder", WARNING),
  NOT_ISSUED_HERE(
      AUTHORITIES, "a certificate in the folder that the authority did not issue", WARNING),
  REVOCATION_LIST_ABSENT(AUTHORITIES, "an authority without its revocation list", PROBLEM),
  REVOCATION_LIST_BEHIND(
      AUTHORITIES, "a revocation list that lacks what the register says is revoked", PROBLEM),
  REVOCATION_LIST_EXPIRED(
      AUTHORITIES, "a revocation list that may no longer be relied on", PROBLEM),
  REVOCATION_LIST_DUE(
      AUTHORITIES, "a revocation list that may be relied on for less than fourteen days", WARNING),
  REVOCATION_LIST_NOT_USABLE(
      AUTHORITIES,
      "a list that says nothing that counts, with the reason; a warning where another list counts",
      PROBLEM,
      WARNING),
  REVOCATION_NOT_CHECKED(
      AUTHORITIES,
      "lists were given, and none is of the authority that issued the certificate",
      PROBLEM),
  REVOKED_ALREADY(AUTHORITIES, "it was revoked before; nothing changed", NOTE),

  TRUST_NOT_CHECKED(
      PROBES, "no trust was given: whether clients trust the server was not checked", WARNING),
  CLIENT_CERTIFICATE_ASKED(PROBES, "the server asks for a client's certificate", NOTE),
  CLIENT_CERTIFICATE_ACCEPTED(PROBES, "the server accepts the credential that was shown", NOTE),
  CLIENT_CERTIFICATE_REQUIRED(PROBES, "the server requires a client's certificate", PROBLEM),
  CLIENT_CERTIFICATE_REFUSED(PROBES, "the server refuses the credential that was shown", PROBLEM),
  AS_EXPECTED(PROBES, "the server shows the certificate that was deployed", NOTE),
  NOT_AS_EXPECTED(PROBES, "the server shows another certificate than was deployed", PROBLEM),
  SENT_CERTIFICATE_UNREADABLE(
      PROBES, "a server sends a certificate that Java reads and Symbolon does not", PROBLEM),
  BROKEN_PROTOCOL_VERSION(PROBES, "a server takes SSL 3.0", PROBLEM),
  OLD_PROTOCOL_VERSION(PROBES, "a server takes TLS 1.0 or 1.1", WARNING),
  BROKEN_CIPHER_SUITE(PROBES, "a server takes cipher suites that are broken", PROBLEM),
  OLD_CIPHER_SUITE(PROBES, "a server takes cipher suites that are out of date", WARNING),
  NO_FORWARD_SECRECY(PROBES, "a server takes cipher suites without forward secrecy", NOTE),
  VERSION_NOT_ASKED(PROBES, "a version, or its suites, could not be found out", WARNING),
  ADDRESSES_DIFFER(PROBES, "the addresses of one name do not show the same", PROBLEM),
  ADDRESS_WITHOUT_ANSWER(PROBES, "an address where nobody answers", WARNING),
  ADDRESSES_NOT_PROBED(PROBES, "a name with more than 16 addresses", WARNING),
  NO_SWITCH_TO_TLS(PROBES, "a service that begins in clear text does not switch to TLS", PROBLEM),
  STAPLED_EXPIRED(PROBES, "the status that a server sends along is out of date", PROBLEM),
  STAPLED_UNKNOWN(PROBES, "the authority does not know the certificate", PROBLEM),
  STAPLED_OF_ANOTHER(PROBES, "the status is of another certificate", PROBLEM),
  STAPLED_SIGNATURE_WRONG(PROBES, "the status is not signed by the authority", PROBLEM),
  STAPLED_ERROR(PROBES, "the status is an error message", PROBLEM),
  STAPLED_DAMAGED(PROBES, "the status can't be read", PROBLEM),
  STAPLED_NOT_CHECKED(PROBES, "the status could not be checked", WARNING),
  TRUST_ON_FIRST_USE(PROBES, "certificates that nobody vouches for were saved", WARNING),
  SENT_SAVED(PROBES, "where the certificates that were sent are", NOTE),
  NOTHING_TO_SAVE(PROBES, "the server sent no certificate", PROBLEM),

  TOO_MUCH_SENT(
      HANDSHAKES, "more certificates, or larger ones, than the other side accepts", PROBLEM),
  NO_TLS(HANDSHAKES, "what answers does not speak TLS", PROBLEM),
  NO_COMMON_PROTOCOL(HANDSHAKES, "the sides have no version of TLS in common", PROBLEM),
  NO_COMMON_CIPHER_SUITE(HANDSHAKES, "the sides have no cipher suite in common", PROBLEM),
  HOST_UNKNOWN_TO_SERVER(HANDSHAKES, "the server knows no host of this name", PROBLEM),
  CLOSED_DURING_HANDSHAKE(
      HANDSHAKES, "the other side closed the connection during the handshake", PROBLEM),
  HANDSHAKE_STALLED(HANDSHAKES, "the other side fell silent during the handshake", PROBLEM),
  HANDSHAKE_FAILED(HANDSHAKES, "the handshake failed for a reason of its own", PROBLEM),
  NO_CLIENT_CERTIFICATE(
      HANDSHAKES, "the client shows no certificate, and the server requires one", PROBLEM),
  CLIENT_AUTHORITY_NOT_NAMED(
      HANDSHAKES, "the server does not name the authority of the client's certificate", PROBLEM),
  HOST_NOT_CHECKED(HANDSHAKES, "a rehearsal without a host", WARNING),
  CLIENT_CERTIFICATE_NOT_ASKED(
      HANDSHAKES, "a rehearsal in which the server trusts nobody: TLS one-way", NOTE),
  PAIRS_DEDUCED(HANDSHAKES, "more than 400 pairs at once: not each of them had a handshake", NOTE),
  CLIENT_BRINGS_INTERMEDIATE(
      HANDSHAKES, "this client is served, one with the root alone is not", WARNING),
  NOT_KNOWN_TO_SYSTEMS(
      HANDSHAKES, "a client with its system's roots alone refuses the server", NOTE),
  PEER_RULE_REFUSED(HANDSHAKES, "a trusted peer that a rule does not accept", PROBLEM),
  NOT_RELOADED(HANDSHAKES, "a reloading context keeps what it has", PROBLEM),
  CHAIN_SHORTER(HANDSHAKES, "a new chain lacks an intermediate that the old one had", PROBLEM),
  NO_HANDSHAKE(HANDSHAKES, "a new setup makes no handshake with itself", PROBLEM),
  HOST_DROPPED(HANDSHAKES, "a reloaded certificate no longer covers a host", WARNING),

  PASSWORD_WRONG(LOGS, "a keystore was opened with a wrong password", PROBLEM),
  KEY_FILE_TOO_OPEN(LOGS, "a server refuses a key file that others can read", PROBLEM),
  WRONG_USE(LOGS, "a certificate that is for another use", PROBLEM),
  PEER_DOES_NOT_TRUST(LOGS, "the other side does not trust the certificate", PROBLEM),
  NOT_EXPLAINED(LOGS, "a failure of TLS that is not known: it is shown as it is", WARNING),

  INVALID_ARGUMENT(FAILURES, "an argument that is outside what is accepted", PROBLEM),
  NOT_UNDERSTOOD(FAILURES, "bytes that are not what they claim to be", PROBLEM, WARNING),
  NOT_FOUND(FAILURES, "what was asked for is not among what was given", PROBLEM, WARNING),
  AMBIGUOUS(FAILURES, "more than one thing answers to what was asked for", PROBLEM, WARNING),
  INCOMPLETE(FAILURES, "something that must be there is missing", PROBLEM, WARNING),
  DOES_NOT_FIT(
      FAILURES, "a key and a certificate that should belong together do not", PROBLEM, WARNING),
  EXISTS(FAILURES, "the target exists already", PROBLEM),
  NOT_WRITABLE(FAILURES, "the target can't be written", PROBLEM),
  CHANGED(FAILURES, "somebody else has changed a file in between", PROBLEM),
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

  /** The stable id: kebab-case. */
  public String id() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** What it is about. */
  public FindingTopic topic() {
    return topic;
  }

  /** What it means in general, as a part of a sentence. */
  public String meaning() {
    return meaning;
  }

  /** How much it usually matters. */
  public Level level() {
    return levels.get(0);
  }

  /** Every level that it can have, the usual one first. */
  public List<Level> levels() {
    return levels;
  }

  /** The kind that says that something failed for this reason. */
  public static FindingKind of(Reason reason) {
    return valueOf(reason.name());
  }

  /** The kind with this id. */
  public static Optional<FindingKind> ofId(String id) {
    for (FindingKind kind : values()) {
      if (kind.id().equals(id)) {
        return Optional.of(kind);
      }
    }
    return Optional.empty();
  }
}
