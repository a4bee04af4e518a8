// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

import io.symbolon.oid.Oid;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/**
 * The object identifiers that are known here and the names people know them by: the one table of
 * them.
 */
public final class Oids {
  private static final Map<Oid, String> NAMES = new HashMap<>(320);

  // Public key algorithms: RFC 8017 A.1, RFC 5480 2.1, RFC 8410 3, RFC 3279 2.3.2, FIPS 203 and
  // 204.
  public static final Oid RSA = name("1.2.840.113549.1.1.1", "RSA");
  public static final Oid RSA_PSS = name("1.2.840.113549.1.1.10", "RSASSA-PSS");
  public static final Oid EC = name("1.2.840.10045.2.1", "EC");
  public static final Oid DSA = name("1.2.840.10040.4.1", "DSA");
  public static final Oid DH = name("1.2.840.113549.1.3.1", "DH");
  public static final Oid X25519 = name("1.3.101.110", "X25519");
  public static final Oid X448 = name("1.3.101.111", "X448");
  public static final Oid ED25519 = name("1.3.101.112", "Ed25519");
  public static final Oid ED448 = name("1.3.101.113", "Ed448");
  public static final Oid ML_DSA_44 = name("2.16.840.1.101.3.4.3.17", "ML-DSA-44");
  public static final Oid ML_DSA_65 = name("2.16.840.1.101.3.4.3.18", "ML-DSA-65");
  public static final Oid ML_DSA_87 = name("2.16.840.1.101.3.4.3.19", "ML-DSA-87");
  public static final Oid SM2 = name("1.2.156.10197.1.301", "SM2");
  public static final Oid ML_KEM_512 = name("2.16.840.1.101.3.4.4.1", "ML-KEM-512");
  public static final Oid ML_KEM_768 = name("2.16.840.1.101.3.4.4.2", "ML-KEM-768");
  public static final Oid ML_KEM_1024 = name("2.16.840.1.101.3.4.4.3", "ML-KEM-1024");

  // Named curves: RFC 5480 2.1.1.1, SEC 2.
  public static final Oid P256 = name("1.2.840.10045.3.1.7", "P-256");
  public static final Oid P384 = name("1.3.132.0.34", "P-384");
  public static final Oid P521 = name("1.3.132.0.35", "P-521");
  public static final Oid P224 = name("1.3.132.0.33", "P-224");
  public static final Oid P192 = name("1.2.840.10045.3.1.1", "P-192");
  public static final Oid SECP256K1 = name("1.3.132.0.10", "secp256k1");
  public static final Oid BRAINPOOL_P256R1 = name("1.3.36.3.3.2.8.1.1.7", "brainpoolP256r1");
  public static final Oid BRAINPOOL_P384R1 = name("1.3.36.3.3.2.8.1.1.11", "brainpoolP384r1");
  public static final Oid BRAINPOOL_P512R1 = name("1.3.36.3.3.2.8.1.1.13", "brainpoolP512r1");

  static {
    series("1.3.132.0", 1, "sect163k1 sect163r1 sect239k1 sect113r1 sect113r2 secp112r1 secp112r2");
    series("1.3.132.0", 8, "secp160r1 secp160k1");
    series("1.3.132.0", 15, "sect163r2 sect283k1 sect283r1");
    series("1.3.132.0", 22, "sect131r1 sect131r2 sect193r1 sect193r2 sect233k1 sect233r1");
    series("1.3.132.0", 28, "secp128r1 secp128r2 secp160r2 secp192k1 secp224k1");
    series("1.3.132.0", 36, "sect409k1 sect409r1 sect571k1 sect571r1");
    series("1.2.840.10045.3.1", 2, "prime192v2 prime192v3 prime239v1 prime239v2 prime239v3");
    series("1.3.36.3.3.2.8.1.1", 1, "brainpoolP160r1 brainpoolP160t1 brainpoolP192r1");
    series("1.3.36.3.3.2.8.1.1", 4, "brainpoolP192t1 brainpoolP224r1 brainpoolP224t1");
    series("1.3.36.3.3.2.8.1.1", 8, "brainpoolP256t1 brainpoolP320r1 brainpoolP320t1");
    series("1.3.36.3.3.2.8.1.1", 12, "brainpoolP384t1");
    series("1.3.36.3.3.2.8.1.1", 14, "brainpoolP512t1");
    series("1.2.250.1.223.101.256", 1, "FRP256v1");
    // FIPS 205.
    series("2.16.840.1.101.3.4.3", 20, "SLH-DSA-SHA2-128s SLH-DSA-SHA2-128f SLH-DSA-SHA2-192s");
    series("2.16.840.1.101.3.4.3", 23, "SLH-DSA-SHA2-192f SLH-DSA-SHA2-256s SLH-DSA-SHA2-256f");
    series("2.16.840.1.101.3.4.3", 26, "SLH-DSA-SHAKE-128s SLH-DSA-SHAKE-128f");
    series("2.16.840.1.101.3.4.3", 28, "SLH-DSA-SHAKE-192s SLH-DSA-SHAKE-192f");
    series("2.16.840.1.101.3.4.3", 30, "SLH-DSA-SHAKE-256s SLH-DSA-SHAKE-256f");
  }

  // Digests: RFC 8017 B.1, FIPS 180-4.
  public static final Oid MD5 = name("1.2.840.113549.2.5", "MD5");
  public static final Oid SHA1 = name("1.3.14.3.2.26", "SHA-1");
  public static final Oid SHA224 = name("2.16.840.1.101.3.4.2.4", "SHA-224");
  public static final Oid SHA256 = name("2.16.840.1.101.3.4.2.1", "SHA-256");
  public static final Oid SHA384 = name("2.16.840.1.101.3.4.2.2", "SHA-384");
  public static final Oid SHA512 = name("2.16.840.1.101.3.4.2.3", "SHA-512");
  public static final Oid SHA512_224 = name("2.16.840.1.101.3.4.2.5", "SHA-512/224");
  public static final Oid SHA512_256 = name("2.16.840.1.101.3.4.2.6", "SHA-512/256");
  public static final Oid MGF1 = name("1.2.840.113549.1.1.8", "MGF1");

  // Signature algorithms: RFC 8017 A.2.4, RFC 5758 3.2, RFC 3279 2.2.
  public static final Oid RSA_MD2 = name("1.2.840.113549.1.1.2", "MD2withRSA");
  public static final Oid RSA_MD5 = name("1.2.840.113549.1.1.4", "MD5withRSA");
  public static final Oid RSA_SHA1 = name("1.2.840.113549.1.1.5", "SHA1withRSA");
  public static final Oid RSA_SHA224 = name("1.2.840.113549.1.1.14", "SHA224withRSA");
  public static final Oid RSA_SHA256 = name("1.2.840.113549.1.1.11", "SHA256withRSA");
  public static final Oid RSA_SHA384 = name("1.2.840.113549.1.1.12", "SHA384withRSA");
  public static final Oid RSA_SHA512 = name("1.2.840.113549.1.1.13", "SHA512withRSA");
  public static final Oid RSA_SHA1_OIW = name("1.3.14.3.2.29", "SHA1withRSA");
  public static final Oid ECDSA_SHA1 = name("1.2.840.10045.4.1", "SHA1withECDSA");
  public static final Oid ECDSA_SHA224 = name("1.2.840.10045.4.3.1", "SHA224withECDSA");
  public static final Oid ECDSA_SHA256 = name("1.2.840.10045.4.3.2", "SHA256withECDSA");
  public static final Oid ECDSA_SHA384 = name("1.2.840.10045.4.3.3", "SHA384withECDSA");
  public static final Oid ECDSA_SHA512 = name("1.2.840.10045.4.3.4", "SHA512withECDSA");
  public static final Oid DSA_SHA1 = name("1.2.840.10040.4.3", "SHA1withDSA");
  public static final Oid DSA_SHA224 = name("2.16.840.1.101.3.4.3.1", "SHA224withDSA");
  public static final Oid DSA_SHA256 = name("2.16.840.1.101.3.4.3.2", "SHA256withDSA");

  // Password-based protection: RFC 8018 A, RFC 7292 C, RFC 9579.
  public static final Oid PBES2 = name("1.2.840.113549.1.5.13", "PBES2");
  public static final Oid PBKDF2 = name("1.2.840.113549.1.5.12", "PBKDF2");
  public static final Oid PBMAC1 = name("1.2.840.113549.1.5.14", "PBMAC1");
  public static final Oid PBE_MD5_DES = name("1.2.840.113549.1.5.3", "PBES1 MD5 DES");
  public static final Oid PBE_MD5_RC2 = name("1.2.840.113549.1.5.6", "PBES1 MD5 RC2-64");
  public static final Oid PBE_SHA1_DES = name("1.2.840.113549.1.5.10", "PBES1 SHA-1 DES");
  public static final Oid PBE_SHA1_RC2 = name("1.2.840.113549.1.5.11", "PBES1 SHA-1 RC2-64");
  public static final Oid PKCS12_RC4_128 = name("1.2.840.113549.1.12.1.1", "PKCS#12 RC4-128");
  public static final Oid PKCS12_RC4_40 = name("1.2.840.113549.1.12.1.2", "PKCS#12 RC4-40");
  public static final Oid PKCS12_3DES = name("1.2.840.113549.1.12.1.3", "PKCS#12 3DES");
  public static final Oid PKCS12_2DES = name("1.2.840.113549.1.12.1.4", "PKCS#12 two-key 3DES");
  public static final Oid PKCS12_RC2_128 = name("1.2.840.113549.1.12.1.5", "PKCS#12 RC2-128");
  public static final Oid PKCS12_RC2_40 = name("1.2.840.113549.1.12.1.6", "PKCS#12 RC2-40");
  public static final Oid JKS_KEY = name("1.3.6.1.4.1.42.2.17.1.1", "JKS SHA-1 stream");
  public static final Oid JCEKS_KEY = name("1.3.6.1.4.1.42.2.19.1", "JCEKS MD5 3DES");
  public static final Oid HMAC_SHA1 = name("1.2.840.113549.2.7", "HMAC-SHA-1");
  public static final Oid HMAC_SHA224 = name("1.2.840.113549.2.8", "HMAC-SHA-224");
  public static final Oid HMAC_SHA256 = name("1.2.840.113549.2.9", "HMAC-SHA-256");
  public static final Oid HMAC_SHA384 = name("1.2.840.113549.2.10", "HMAC-SHA-384");
  public static final Oid HMAC_SHA512 = name("1.2.840.113549.2.11", "HMAC-SHA-512");
  public static final Oid HMAC_SHA512_224 = name("1.2.840.113549.2.12", "HMAC-SHA-512/224");
  public static final Oid HMAC_SHA512_256 = name("1.2.840.113549.2.13", "HMAC-SHA-512/256");
  public static final Oid AES128_CBC = name("2.16.840.1.101.3.4.1.2", "AES-128-CBC");
  public static final Oid AES192_CBC = name("2.16.840.1.101.3.4.1.22", "AES-192-CBC");
  public static final Oid AES256_CBC = name("2.16.840.1.101.3.4.1.42", "AES-256-CBC");
  public static final Oid DES_CBC = name("1.3.14.3.2.7", "DES-CBC");
  public static final Oid DES_EDE3_CBC = name("1.2.840.113549.3.7", "3DES-CBC");
  public static final Oid RC2_CBC = name("1.2.840.113549.3.2", "RC2-CBC");

  // PKCS#7 and PKCS#12: RFC 2315 14, RFC 7292 D, RFC 2985 B; the last is Java's own.
  public static final Oid DATA = name("1.2.840.113549.1.7.1", "data");
  public static final Oid SIGNED_DATA = name("1.2.840.113549.1.7.2", "signedData");
  public static final Oid ENVELOPED_DATA = name("1.2.840.113549.1.7.3", "envelopedData");
  public static final Oid ENCRYPTED_DATA = name("1.2.840.113549.1.7.6", "encryptedData");
  public static final Oid KEY_BAG = name("1.2.840.113549.1.12.10.1.1", "keyBag");
  public static final Oid SHROUDED_KEY_BAG =
      name("1.2.840.113549.1.12.10.1.2", "pkcs8ShroudedKeyBag");
  public static final Oid CERT_BAG = name("1.2.840.113549.1.12.10.1.3", "certBag");
  public static final Oid CRL_BAG = name("1.2.840.113549.1.12.10.1.4", "crlBag");
  public static final Oid SECRET_BAG = name("1.2.840.113549.1.12.10.1.5", "secretBag");
  public static final Oid SAFE_CONTENTS_BAG = name("1.2.840.113549.1.12.10.1.6", "safeContentsBag");
  public static final Oid X509_CERTIFICATE = name("1.2.840.113549.1.9.22.1", "x509Certificate");
  public static final Oid X509_CRL = name("1.2.840.113549.1.9.23.1", "x509CRL");
  public static final Oid FRIENDLY_NAME = name("1.2.840.113549.1.9.20", "friendlyName");
  public static final Oid LOCAL_KEY_ID = name("1.2.840.113549.1.9.21", "localKeyId");
  public static final Oid TRUSTED_KEY_USAGE =
      name("2.16.840.1.113894.746875.1.1", "trustedKeyUsage");
  public static final Oid EXTENSION_REQUEST = name("1.2.840.113549.1.9.14", "extensionRequest");
  public static final Oid CHALLENGE_PASSWORD = name("1.2.840.113549.1.9.7", "challengePassword");

  // Certificate extensions: RFC 5280 4.2.
  public static final Oid SUBJECT_KEY_ID = name("2.5.29.14", "subject key identifier");
  public static final Oid KEY_USAGE = name("2.5.29.15", "key usage");
  public static final Oid SUBJECT_ALT_NAME = name("2.5.29.17", "subject alternative names");
  public static final Oid ISSUER_ALT_NAME = name("2.5.29.18", "issuer alternative names");
  public static final Oid BASIC_CONSTRAINTS = name("2.5.29.19", "basic constraints");
  public static final Oid NAME_CONSTRAINTS = name("2.5.29.30", "name constraints");
  public static final Oid CRL_DISTRIBUTION = name("2.5.29.31", "revocation list distribution");
  public static final Oid CERTIFICATE_POLICIES = name("2.5.29.32", "certificate policies");
  public static final Oid AUTHORITY_KEY_ID = name("2.5.29.35", "authority key identifier");
  public static final Oid EXT_KEY_USAGE = name("2.5.29.37", "extended key usage");
  public static final Oid AUTHORITY_INFO =
      name("1.3.6.1.5.5.7.1.1", "authority information access");

  public static final Oid SUBJECT_INFO = name("1.3.6.1.5.5.7.1.11", "subject information access");
  public static final Oid POLICY_MAPPINGS = name("2.5.29.33", "policy mappings");
  public static final Oid POLICY_CONSTRAINTS = name("2.5.29.36", "policy constraints");
  public static final Oid INHIBIT_ANY_POLICY = name("2.5.29.54", "inhibit any policy");
  public static final Oid FRESHEST_CRL = name("2.5.29.46", "delta revocation lists");
  public static final Oid ANY_POLICY = name("2.5.29.32.0", "any policy");
  public static final Oid TLS_FEATURE = name("1.3.6.1.5.5.7.1.24", "TLS features"); // RFC 7633
  public static final Oid OCSP_NO_CHECK = name("1.3.6.1.5.5.7.48.1.5", "OCSP no check");
  public static final Oid TIMESTAMP_LIST = // RFC 6962, 3.3
      name("1.3.6.1.4.1.11129.2.4.2", "certificate transparency timestamps");
  public static final Oid PRECERTIFICATE =
      name("1.3.6.1.4.1.11129.2.4.3", "certificate transparency precertificate");
  public static final Oid OCSP = name("1.3.6.1.5.5.7.48.1", "OCSP");
  public static final Oid CA_ISSUERS = name("1.3.6.1.5.5.7.48.2", "issuer's certificate");
  public static final Oid CPS = name("1.3.6.1.5.5.7.2.1", "practice statement");
  public static final Oid USER_NOTICE = name("1.3.6.1.5.5.7.2.2", "user notice");
  public static final Oid NETSCAPE_TYPE = name("2.16.840.1.113730.1.1", "Netscape type");
  public static final Oid NETSCAPE_COMMENT = name("2.16.840.1.113730.1.13", "Netscape comment");

  // Extensions of revocation lists and their entries: RFC 5280 5.2 and 5.3.
  public static final Oid CRL_NUMBER = name("2.5.29.20", "number");
  public static final Oid CRL_REASON = name("2.5.29.21", "reason");
  public static final Oid INVALIDITY_DATE = name("2.5.29.24", "invalid since");
  public static final Oid CERTIFICATE_ISSUER = name("2.5.29.29", "certificate issuer");
  public static final Oid DELTA_CRL = name("2.5.29.27", "delta of list");
  public static final Oid ISSUING_POINT = name("2.5.29.28", "issuing distribution point");

  // Extended key usages: RFC 5280 4.2.1.12.
  public static final Oid ANY_USAGE = name("2.5.29.37.0", "any use");
  public static final Oid SERVER_AUTH = name("1.3.6.1.5.5.7.3.1", "TLS server");
  public static final Oid CLIENT_AUTH = name("1.3.6.1.5.5.7.3.2", "TLS client");
  public static final Oid CODE_SIGNING = name("1.3.6.1.5.5.7.3.3", "code signing");
  public static final Oid EMAIL_PROTECTION = name("1.3.6.1.5.5.7.3.4", "e-mail protection");
  public static final Oid TIME_STAMPING = name("1.3.6.1.5.5.7.3.8", "time stamping");
  public static final Oid OCSP_SIGNING = name("1.3.6.1.5.5.7.3.9", "OCSP signing");

  // Attribute types of names: RFC 4519 2, RFC 4524 2, RFC 2985 5.2.
  public static final Oid CN = Oid.of("2.5.4.3");
  public static final Oid SURNAME = Oid.of("2.5.4.4");
  public static final Oid SERIAL_NUMBER = Oid.of("2.5.4.5");
  public static final Oid C = Oid.of("2.5.4.6");
  public static final Oid L = Oid.of("2.5.4.7");
  public static final Oid ST = Oid.of("2.5.4.8");
  public static final Oid STREET = Oid.of("2.5.4.9");
  public static final Oid O = Oid.of("2.5.4.10");
  public static final Oid OU = Oid.of("2.5.4.11");
  public static final Oid TITLE = Oid.of("2.5.4.12");
  public static final Oid GIVEN_NAME = Oid.of("2.5.4.42");
  public static final Oid DC = Oid.of("0.9.2342.19200300.100.1.25");
  public static final Oid UID = Oid.of("0.9.2342.19200300.100.1.1");
  public static final Oid EMAIL = Oid.of("1.2.840.113549.1.9.1");

  private Oids() {}

  private static Oid name(String dotted, String name) {
    Oid oid = Oid.of(dotted);
    NAMES.put(oid, name);
    return oid;
  }

  /** Names for identifiers that follow each other. */
  private static void series(String parent, int first, String names) {
    int number = first;
    for (String name : names.split(" ", -1)) {
      NAMES.put(Oid.of(parent + "." + number), name);
      number++;
    }
  }

  /** The name people know an identifier by, if it is in the table. */
  public static Optional<String> name(Oid oid) {
    return Optional.ofNullable(NAMES.get(oid));
  }

  /** The name of an identifier, or its dotted text where it has none. */
  public static String nameOrDotted(Oid oid) {
    String name = NAMES.get(oid);
    return name == null ? oid.toString() : name;
  }
}
