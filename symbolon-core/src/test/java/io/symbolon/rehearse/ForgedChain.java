// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.der.Der;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.fixture.Forge;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.key.KeyKind;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.MessageDigest;
import java.security.spec.RSAKeyGenParameterSpec;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** A chain of root, intermediate and end-entity in which anything may be wrong. */
final class ForgedChain {
  private static final Map<String, KeyPair> KEYS = new LinkedHashMap<>();

  Draft root;
  Draft issuing;
  Draft leaf;
  @Nullable Draft between;
  boolean withoutIntermediate;
  boolean withRoot;
  boolean reversed;
  List<String> trusted = new ArrayList<>(List.of("root"));

  /** Something that is wrong, or unusual. */
  interface Defect extends Consumer<ForgedChain> {}

  /** What came of it. */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  record Made(List<Certificate> shown, List<Certificate> trust, byte[] keyPem) {}

  /** A certificate before it is signed. */
  static final class Draft {
    int version = 2;
    BigInteger serial = BigInteger.valueOf(1_000 + KEYS.size());
    DistinguishedName subject;
    Instant from;
    Instant until;
    KeyPair key;
    final Map<Oid, byte[]> extensions = new LinkedHashMap<>();
    String signedWith = "";
    boolean broken;
    @Nullable KeyPair signedBy;

    Draft(String name, KeyPair key, Instant now, Duration lasts) {
      this.subject = Lanternfish.name(name);
      this.key = key;
      this.from = now.minus(Duration.ofDays(1));
      this.until = now.plus(lasts);
    }

    void set(Oid oid, boolean critical, byte[] value) {
      extensions.put(
          oid,
          critical
              ? Der.sequence(Der.oid(oid), Der.bool(true), Der.octets(value))
              : Der.sequence(Der.oid(oid), Der.octets(value)));
    }

    /** Left out, also where it would be added. */
    void drop(Oid oid) {
      extensions.put(oid, new byte[0]);
    }

    /** Version 1 with no extension at all. */
    void bare() {
      version = 0;
      extensions.clear();
      drop(Oids.SUBJECT_KEY_ID);
      drop(Oids.AUTHORITY_KEY_ID);
    }

    void usage(int... bits) {
      int all = 0;
      for (int bit : bits) {
        all |= 1 << bit;
      }
      set(Oids.KEY_USAGE, true, Der.namedBits(all));
    }

    void purposes(Oid... oids) {
      List<byte[]> parts = new ArrayList<>();
      for (Oid oid : oids) {
        parts.add(Der.oid(oid));
      }
      set(Oids.EXT_KEY_USAGE, false, Der.sequence(parts));
    }

    void authority(int pathLength) {
      set(
          Oids.BASIC_CONSTRAINTS,
          true,
          pathLength < 0
              ? Der.sequence(Der.bool(true))
              : Der.sequence(Der.bool(true), Der.integer(pathLength)));
      usage(5, 6);
    }

    /** Constraints: tag 0 permits, tag 1 excludes; the kind of name is its tag. */
    void constrain(int which, int kind, byte[] content) {
      byte[] name = kind == 4 ? Der.context(4, content) : Der.contextPrimitive(kind, content);
      set(Oids.NAME_CONSTRAINTS, true, Der.sequence(Der.context(which, Der.sequence(name))));
    }

    void names(byte[]... names) {
      set(Oids.SUBJECT_ALT_NAME, false, Der.sequence(names));
    }
  }

  private ForgedChain(String host, Instant now, Duration lasts) {
    root = new Draft("Judged Root", key("EC root"), now, lasts);
    root.authority(-1);
    issuing = new Draft("Judged Issuing", key("EC issuing"), now, lasts);
    issuing.authority(-1);
    leaf = new Draft(host, key("EC leaf"), now, lasts);
    leaf.usage(0);
    leaf.purposes(Oids.SERVER_AUTH);
    leaf.names(dns(host));
  }

  static byte[] dns(String host) {
    return Der.contextPrimitive(2, host.getBytes(StandardCharsets.US_ASCII));
  }

  private static byte[] text(String text) {
    return text.getBytes(StandardCharsets.US_ASCII);
  }

  private static synchronized KeyPair key(String what) {
    return KEYS.computeIfAbsent(
        what,
        name -> {
          try {
            if (name.startsWith("EC")) {
              return KeyKind.EC_P256.generate(Lanternfish.RANDOM);
            }
            KeyPairGenerator generator = KeyPairGenerator.getInstance("RSA");
            generator.initialize(
                new RSAKeyGenParameterSpec(
                    Integer.parseInt(name.split(" ", -1)[1]), RSAKeyGenParameterSpec.F4));
            return generator.generateKeyPair();
          } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
          }
        });
  }

  private static byte[] keyId(KeyPair pair) {
    try {
      return MessageDigest.getInstance("SHA-1")
          .digest(SubjectPublicKeyInfo.of(pair.getPublic()).keyOctets());
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  private static Certificate sign(Draft draft, Draft issuer) {
    KeyPair by = draft.signedBy == null ? issuer.key : draft.signedBy;
    boolean rsa = by.getPrivate().getAlgorithm().equals("RSA");
    String digest = draft.signedWith.isEmpty() ? "SHA256" : draft.signedWith;
    String name = digest + (rsa ? "withRSA" : "withECDSA");
    Oid oid =
        switch (name) {
          case "SHA256withRSA" -> Oids.RSA_SHA256;
          case "SHA1withRSA" -> Oids.RSA_SHA1;
          case "MD5withRSA" -> Oids.RSA_MD5;
          case "SHA1withECDSA" -> Oids.ECDSA_SHA1;
          default -> Oids.ECDSA_SHA256;
        };
    if (digest.equals("MD5") && !rsa) {
      name = "SHA1withECDSA";
      oid = Oids.ECDSA_SHA1;
    }
    byte[] algorithm = rsa ? Forge.algorithm(oid) : Der.sequence(Der.oid(oid));
    draft.extensions.computeIfAbsent(
        Oids.SUBJECT_KEY_ID,
        id -> Der.sequence(Der.oid(id), Der.octets(Der.octets(keyId(draft.key)))));
    if (draft != issuer) {
      draft.extensions.computeIfAbsent(
          Oids.AUTHORITY_KEY_ID,
          id ->
              Der.sequence(
                  Der.oid(id),
                  Der.octets(Der.sequence(Der.contextPrimitive(0, keyId(issuer.key))))));
    }
    List<byte[]> fields = new ArrayList<>();
    if (draft.version > 0) {
      fields.add(Der.context(0, Der.integer(draft.version)));
    }
    fields.add(Der.integer(draft.serial));
    fields.add(algorithm);
    fields.add(issuer.subject.encoding());
    fields.add(Der.sequence(Der.time(draft.from), Der.time(draft.until)));
    fields.add(draft.subject.encoding());
    fields.add(draft.key.getPublic().getEncoded());
    List<byte[]> present =
        draft.extensions.values().stream().filter(value -> value.length > 0).toList();
    if (!present.isEmpty()) {
      fields.add(Der.context(3, Der.sequence(present)));
    }
    byte[] signed = Forge.signed(Der.sequence(fields), algorithm, name, null, by.getPrivate());
    if (draft.broken) {
      signed[signed.length - 3] ^= 1;
    }
    return Certificate.read(signed);
  }

  static Made make(List<Defect> defects, String host, Instant now, Duration lasts) {
    ForgedChain chain = new ForgedChain(host, now, lasts);
    defects.forEach(defect -> defect.accept(chain));
    Certificate root = sign(chain.root, chain.root);
    Certificate issuing = sign(chain.issuing, chain.root);
    List<Certificate> shown = new ArrayList<>();
    Draft between = chain.between;
    shown.add(sign(chain.leaf, between == null ? chain.issuing : between));
    if (between != null) {
      shown.add(sign(between, chain.issuing));
    }
    if (!chain.withoutIntermediate) {
      shown.add(issuing);
    }
    if (chain.withRoot) {
      shown.add(root);
    }
    if (chain.reversed) {
      Collections.reverse(shown.subList(1, shown.size()));
    }
    List<Certificate> trust = new ArrayList<>();
    for (String one : chain.trusted) {
      trust.add(one.equals("root") ? root : one.equals("issuing") ? issuing : shown.get(0));
    }
    return new Made(
        shown,
        trust,
        PemWriter.write(
            "PRIVATE KEY", PrivateKeyInfo.of(chain.leaf.key.getPrivate()).revealPkcs8()));
  }

  private Draft insert(Instant now, Duration lasts, String name) {
    Draft draft = new Draft(name, key("EC between"), now, lasts);
    draft.authority(-1);
    between = draft;
    return draft;
  }

  /** Every defect by its name; what begins with "good" is none. */
  static Map<String, Defect> defects(String host, Instant now, Duration lasts) {
    Map<String, Defect> all = new LinkedHashMap<>();
    Oid unknown = Oid.of("1.3.6.1.4.1.99999.1");
    byte[] anyPolicy = Der.sequence(Der.sequence(Der.oid(Oids.ANY_POLICY)));
    byte[] policy = Der.sequence(Der.sequence(Der.oid(Oid.of("1.3.6.1.4.1.99999.2"))));
    byte[] otherPolicy = Der.sequence(Der.sequence(Der.oid(Oid.of("1.3.6.1.4.1.99999.3"))));
    byte[] explicit = Der.sequence(Der.contextPrimitive(0, new byte[1]));
    byte[] here = Lanternfish.name("x").encoding();
    all.put("good", c -> {});
    for (String level : List.of("root", "issuing", "leaf")) {
      all.put(level + " expired", c -> c.of(level).until = now.minusSeconds(60));
      all.put(level + " from the future", c -> c.of(level).from = now.plusSeconds(86_400));
      all.put(level + " critical unknown", c -> c.of(level).set(unknown, true, Der.nul()));
      all.put("good " + level + " unknown", c -> c.of(level).set(unknown, false, Der.nul()));
      all.put(level + " version 1 with extensions", c -> c.of(level).version = 0);
      all.put(level + " version 1", c -> c.of(level).bare());
      all.put(level + " RSA 1024", c -> c.of(level).key = key("RSA 1024 " + level));
      all.put(level + " signed with SHA-1", c -> c.of(level).signedWith = "SHA1");
      all.put(
          level + " damaged constraints",
          c -> c.of(level).set(Oids.NAME_CONSTRAINTS, true, Der.integer(1)));
      all.put(
          level + " damaged basic constraints",
          c -> c.of(level).set(Oids.BASIC_CONSTRAINTS, true, Der.integer(1)));
      all.put(
          level + " damaged key usage", c -> c.of(level).set(Oids.KEY_USAGE, true, Der.integer(1)));
      all.put("good " + level + " serial 1", c -> c.of(level).serial = BigInteger.ONE);
    }
    for (String level : List.of("root", "issuing")) {
      all.put(level + " without basic constraints", c -> c.of(level).drop(Oids.BASIC_CONSTRAINTS));
      all.put(
          level + " no authority",
          c -> c.of(level).set(Oids.BASIC_CONSTRAINTS, true, Der.sequence()));
      all.put(level + " may not sign", c -> c.of(level).usage(0));
      all.put(level + " may sign lists alone", c -> c.of(level).usage(6));
      all.put("good " + level + " without key usage", c -> c.of(level).drop(Oids.KEY_USAGE));
      all.put(level + " for clients", c -> c.of(level).purposes(Oids.CLIENT_AUTH));
      all.put(level + " for code", c -> c.of(level).purposes(Oids.CODE_SIGNING));
      all.put("good " + level + " for servers", c -> c.of(level).purposes(Oids.SERVER_AUTH));
      all.put(level + " for any use alone", c -> c.of(level).purposes(Oids.ANY_USAGE));
      all.put(
          level + " permits another domain",
          c -> c.of(level).constrain(0, 2, text("other.example")));
      all.put(
          "good " + level + " permits the domain",
          c -> c.of(level).constrain(0, 2, text("lanternfish.example")));
      all.put(level + " excludes the host", c -> c.of(level).constrain(1, 2, text(host)));
      all.put(
          level + " excludes the domain",
          c -> c.of(level).constrain(1, 2, text("lanternfish.example")));
      all.put(
          "good " + level + " excludes another",
          c -> c.of(level).constrain(1, 2, text("other.example")));
      all.put(level + " permits another name", c -> c.of(level).constrain(0, 4, here));
      all.put(
          "good " + level + " permits an e-mail domain",
          c -> c.of(level).constrain(0, 1, text("other.example")));
      all.put(
          "good " + level + " permits a network", c -> c.of(level).constrain(0, 7, new byte[8]));
      all.put(
          level + " path length 0 and one more",
          c -> {
            c.of(level).authority(0);
            c.insert(now, lasts, "Judged Below");
          });
      all.put(
          "good " + level + " path length 2 and one more",
          c -> {
            c.of(level).authority(2);
            c.insert(now, lasts, "Judged Below");
          });
      all.put(
          level + " requires a policy",
          c -> c.of(level).set(Oids.POLICY_CONSTRAINTS, true, explicit));
    }
    all.put(
        "good issuing path length 0 and one it issued to itself",
        c -> {
          c.issuing.authority(1);
          c.insert(now, lasts, "Judged Issuing");
        });
    all.put(
        "self-issued intermediate signed with SHA-1",
        c -> c.insert(now, lasts, "Judged Issuing").signedWith = "SHA1");
    all.put(
        "good policies that agree",
        c -> {
          c.issuing.set(Oids.POLICY_CONSTRAINTS, true, explicit);
          c.issuing.set(Oids.CERTIFICATE_POLICIES, false, policy);
          c.leaf.set(Oids.CERTIFICATE_POLICIES, false, policy);
        });
    all.put(
        "policies that differ",
        c -> {
          c.issuing.set(Oids.POLICY_CONSTRAINTS, true, explicit);
          c.issuing.set(Oids.CERTIFICATE_POLICIES, false, policy);
          c.leaf.set(Oids.CERTIFICATE_POLICIES, false, otherPolicy);
        });
    all.put(
        "any policy inhibited",
        c -> {
          c.issuing.set(Oids.POLICY_CONSTRAINTS, true, explicit);
          c.issuing.set(Oids.INHIBIT_ANY_POLICY, true, Der.integer(0));
          c.issuing.set(Oids.CERTIFICATE_POLICIES, false, anyPolicy);
          c.leaf.set(Oids.CERTIFICATE_POLICIES, false, anyPolicy);
        });
    all.put("issuing signature broken", c -> c.issuing.broken = true);
    all.put("leaf signature broken", c -> c.leaf.broken = true);
    all.put("issuing signed by a namesake", c -> c.issuing.signedBy = key("EC namesake"));
    all.put("leaf signed by a namesake", c -> c.leaf.signedBy = key("EC namesake"));
    all.put(
        "leaf names another issuer key",
        c ->
            c.leaf.set(
                Oids.AUTHORITY_KEY_ID, false, Der.sequence(Der.contextPrimitive(0, new byte[20]))));
    all.put(
        "issuing names another issuer key",
        c ->
            c.issuing.set(
                Oids.AUTHORITY_KEY_ID, false, Der.sequence(Der.contextPrimitive(0, new byte[20]))));
    all.put(
        "leaf names another issuer serial",
        c ->
            c.leaf.set(
                Oids.AUTHORITY_KEY_ID,
                false,
                Der.sequence(
                    Der.context(1, Der.context(4, Lanternfish.name("Another").encoding())),
                    Der.contextPrimitive(2, new byte[] {7}))));
    all.put("leaf for clients", c -> c.leaf.purposes(Oids.CLIENT_AUTH));
    all.put("leaf for code", c -> c.leaf.purposes(Oids.CODE_SIGNING));
    all.put("good leaf for anything", c -> c.leaf.drop(Oids.EXT_KEY_USAGE));
    all.put("leaf may encipher alone", c -> c.leaf.usage(2));
    all.put("leaf may sign certificates alone", c -> c.leaf.usage(5));
    all.put("leaf without names", c -> c.leaf.drop(Oids.SUBJECT_ALT_NAME));
    all.put("leaf for another host", c -> c.leaf.names(dns("catalogue.lanternfish.example")));
    all.put("good leaf wildcard", c -> c.leaf.names(dns("*.lanternfish.example")));
    all.put("leaf wildcard too high", c -> c.leaf.names(dns("*.example")));
    all.put("leaf name of the wrong tag", c -> c.leaf.names(Der.tagged(0x16, text(host))));
    all.put("leaf with an address alone", c -> c.leaf.names(Der.contextPrimitive(7, new byte[4])));
    all.put("leaf without subject", c -> c.leaf.subject = DistinguishedName.parse(""));
    all.put("leaf for any use alone", c -> c.leaf.purposes(Oids.ANY_USAGE));
    all.put(
        "good leaf for servers and any use",
        c -> c.leaf.purposes(Oids.SERVER_AUTH, Oids.ANY_USAGE));
    all.put("leaf serial negative", c -> c.leaf.serial = BigInteger.valueOf(-5));
    all.put("leaf serial 0", c -> c.leaf.serial = BigInteger.ZERO);
    all.put("good leaf RSA 2048", c -> c.leaf.key = key("RSA 2048 leaf"));
    all.put(
        "leaf is an authority",
        c -> c.leaf.set(Oids.BASIC_CONSTRAINTS, true, Der.sequence(Der.bool(true))));
    all.put("no intermediate", c -> c.withoutIntermediate = true);
    all.put("good root sent", c -> c.withRoot = true);
    all.put(
        "wrong order",
        c -> {
          c.insert(now, lasts, "Judged Below");
          c.withRoot = true;
          c.reversed = true;
        });
    all.put(
        "trust in the intermediate alone", c -> c.trusted = new ArrayList<>(List.of("issuing")));
    all.put("good trust in both", c -> c.trusted.add("issuing"));
    return all;
  }

  private Draft of(String level) {
    return level.equals("root") ? root : level.equals("issuing") ? issuing : leaf;
  }
}
