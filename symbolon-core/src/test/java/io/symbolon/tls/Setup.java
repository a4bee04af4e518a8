package io.symbolon.tls;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.name;

import io.symbolon.chain.Credential;
import io.symbolon.der.Der;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.KeyUsage;
import io.symbolon.x509.NameConstraints;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.function.Consumer;

/** One setup of a server and a client, good or broken in one way, and what is to be said of it. */
record Setup(String what, Party server, Party client, String host, Optional<String> finding) {
  static final String HOST = "ingest.lanternfish.example";

  private static final Instant FROM = NOW.minus(Duration.ofDays(1));
  private static final Signer ROOT = new Signer("Setup Root", Optional.empty(), b -> {});
  private static final Signer ISSUING = new Signer("Setup Issuing", Optional.of(ROOT), b -> {});
  private static final Signer NAMESAKE = new Signer("Setup Root", Optional.empty(), b -> {});

  @Override
  public String toString() {
    return what;
  }

  /** An authority that signs whatever it is told to. */
  private static final class Signer {
    private final KeyPair pair = KeyKind.EC_P256.generate(RANDOM);
    private final Certificate certificate;
    private final Optional<Signer> above;

    Signer(String commonName, Optional<Signer> above, Consumer<CertificateBuilder> more) {
      this.above = above;
      CertificateBuilder builder =
          CertificateBuilder.of(name(commonName), SubjectPublicKeyInfo.of(pair.getPublic()))
              .validity(FROM, NOW.plus(YEAR))
              .authority(OptionalInt.empty());
      more.accept(builder);
      certificate =
          above.isPresent()
              ? builder.sign(above.get().certificate, above.get().pair.getPrivate(), RANDOM)
              : builder.signSelf(pair.getPrivate(), RANDOM);
    }

    /** Its own certificate and those above it, without the root. */
    List<Certificate> chain() {
      List<Certificate> chain = new ArrayList<>();
      for (Optional<Signer> at = Optional.of(this); at.isPresent(); at = at.get().above) {
        if (at.get().above.isPresent()) {
          chain.add(at.get().certificate);
        }
      }
      return chain;
    }
  }

  /** An end-entity, as its builder is changed. */
  private static Credential leaf(
      Signer by, KeyPair pair, Use use, String host, Consumer<CertificateBuilder> more) {
    CertificateBuilder builder =
        CertificateBuilder.of(name(host), SubjectPublicKeyInfo.of(pair.getPublic()))
            .validity(FROM, NOW.plus(YEAR))
            .endEntity()
            .extendedKeyUsage(use.purposes());
    if (use == Use.SERVER) {
      builder.alternativeNames(List.of(GeneralName.ofHost(host)));
    }
    more.accept(builder);
    Certificate certificate = builder.sign(by.certificate, by.pair.getPrivate(), RANDOM);
    List<Certificate> chain = new ArrayList<>(List.of(certificate));
    chain.addAll(by.chain());
    return Credential.ofPair(pair, chain);
  }

  private static KeyPair ec() {
    return KeyKind.EC_P256.generate(RANDOM);
  }

  private static Credential server(Signer by, Consumer<CertificateBuilder> more) {
    return leaf(by, ec(), Use.SERVER, HOST, more);
  }

  private static Credential client(Signer by, Consumer<CertificateBuilder> more) {
    return leaf(by, ec(), Use.CLIENT, "buoy-017", more);
  }

  private static Credential with(Credential credential, Certificate... chain) {
    return Credential.of(credential.key(), List.of(chain));
  }

  private static Setup oneWay(
      String what, Credential credential, String host, String finding, Certificate... trust) {
    return new Setup(
        "server: " + what,
        Party.of("server", "server", credential),
        Party.nobody("client").withTrust(List.of(trust)),
        host,
        Optional.of(finding).filter(id -> !id.isEmpty()));
  }

  private static Setup served(String what, Credential credential, String finding) {
    return oneWay(what, credential, HOST, finding, ROOT.certificate);
  }

  private static Setup mutual(
      String what, Optional<Credential> credential, String finding, Certificate... trust) {
    Party client =
        credential
            .map(some -> Party.of("client", "client", some))
            .orElseGet(() -> Party.nobody("client"))
            .withTrust(List.of(ROOT.certificate));
    return new Setup(
        "client: " + what,
        Party.of("server", "server", server(ISSUING, b -> {}))
            .withTrust(List.of(trust.length == 0 ? new Certificate[] {ROOT.certificate} : trust)),
        client,
        HOST,
        Optional.of(finding).filter(id -> !id.isEmpty()));
  }

  private static KeyPair rsa(int bits) {
    try {
      KeyPairGenerator pairs = KeyPairGenerator.getInstance("RSA");
      pairs.initialize(bits);
      return pairs.generateKeyPair();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  /** A credential whose certificate a root of its own signed with an RSA key and some digest. */
  private static Credential signedWith(String digest) {
    KeyPair signing = rsa(2_048);
    Certificate root =
        CertificateBuilder.of(name("Old Root"), SubjectPublicKeyInfo.of(signing.getPublic()))
            .validity(FROM, NOW.plus(YEAR))
            .authority(OptionalInt.empty())
            .signSelf(signing.getPrivate(), RANDOM);
    KeyPair own = ec();
    Certificate model =
        CertificateBuilder.of(name(HOST), SubjectPublicKeyInfo.of(own.getPublic()))
            .validity(FROM, NOW.plus(YEAR))
            .endEntity()
            .extendedKeyUsage(Use.SERVER.purposes())
            .alternativeNames(List.of(GeneralName.ofHost(HOST)))
            .sign(root, signing.getPrivate(), RANDOM);
    byte[] algorithm =
        Der.sequence(Der.oid(digest.equals("MD5") ? Oids.RSA_MD5 : Oids.RSA_SHA1), Der.nul());
    byte[][] extensions =
        model.extensions().all().stream()
            .map(e -> io.symbolon.fixture.Forge.extension(e.oid(), e.value()))
            .toArray(byte[][]::new);
    Certificate forged =
        Certificate.read(
            io.symbolon.fixture.Forge.signed(
                io.symbolon.fixture.Forge.tbs(model, algorithm, extensions),
                algorithm,
                digest + "withRSA",
                null,
                signing.getPrivate()));
    return Credential.ofPair(own, List.of(forged, root));
  }

  /** All setups; more than forty kinds. */
  static List<Setup> all() {
    List<Setup> all = new ArrayList<>();
    for (KeyKind kind :
        List.of(
            KeyKind.RSA_2048, KeyKind.EC_P256, KeyKind.EC_P384, KeyKind.EC_P521, KeyKind.ED25519)) {
      all.add(
          served(
              "good " + kind, leaf(ISSUING, kind.generate(RANDOM), Use.SERVER, HOST, b -> {}), ""));
    }
    Credential good = server(ISSUING, b -> {});
    Certificate end = good.certificate();
    all.add(served("signed by the root", server(ROOT, b -> {}), ""));
    all.add(served("root sent", with(good, end, ISSUING.certificate, ROOT.certificate), ""));
    all.add(served("intermediate missing", with(good, end), "issuer-not-sent"));
    all.add(oneWay("intermediate trusted", with(good, end), HOST, "", ISSUING.certificate));
    all.add(
        oneWay(
            "intermediate with the client",
            with(good, end),
            HOST,
            "",
            ISSUING.certificate,
            ROOT.certificate));
    all.add(oneWay("itself trusted", with(good, end), HOST, "", end));
    Signer second = new Signer("Setup Second", Optional.of(ISSUING), b -> {});
    Credential deep = server(second, b -> {});
    all.add(served("two intermediates", deep, ""));
    all.add(
        served(
            "wrong order",
            with(deep, deep.certificate(), ISSUING.certificate, second.certificate),
            ""));
    all.add(
        served(
            "a stranger among them",
            with(good, end, NAMESAKE.certificate, ISSUING.certificate),
            ""));
    Certificate[] many =
        java.util.Collections.nCopies(12, ISSUING.certificate).toArray(Certificate[]::new);
    many[0] = end;
    all.add(served("twelve certificates", with(good, many), "too-much-sent"));
    Consumer<CertificateBuilder> bulky =
        b ->
            b.add(
                new io.symbolon.x509.Extension(
                    Oid.of("1.2.3.4.5"), false, Der.octets(new byte[40_000])));
    all.add(served("a certificate of 40 KB", server(ISSUING, bulky), "too-much-sent"));
    all.add(served("one twice", with(good, end, ISSUING.certificate, ISSUING.certificate), ""));
    all.add(oneWay("root unknown", good, HOST, "root-not-trusted", NAMESAKE.certificate));
    Signer elsewhere = new Signer("Elsewhere", Optional.empty(), b -> {});
    all.add(oneWay("another root", good, HOST, "root-not-trusted", elsewhere.certificate));
    all.add(
        served("expired", server(ISSUING, b -> b.validity(FROM, NOW.minusSeconds(60))), "expired"));
    all.add(
        served(
            "not yet valid",
            server(ISSUING, b -> b.validity(NOW.plus(Duration.ofDays(2)), NOW.plus(YEAR))),
            "not-yet-valid"));
    Signer old =
        new Signer("Setup Old", Optional.of(ROOT), b -> b.validity(FROM, NOW.minusSeconds(60)));
    all.add(served("intermediate expired", server(old, b -> {}), "expired"));
    all.add(oneWay("another host", good, "other.example", "host-not-covered", ROOT.certificate));
    all.add(
        oneWay(
            "an address it does not cover",
            good,
            "192.0.2.17",
            "host-not-covered",
            ROOT.certificate));
    all.add(
        oneWay(
            "an address",
            leaf(ISSUING, ec(), Use.SERVER, "192.0.2.17", b -> {}),
            "192.0.2.17",
            "",
            ROOT.certificate));
    Credential wildcard = leaf(ISSUING, ec(), Use.SERVER, "*.lanternfish.example", b -> {});
    all.add(oneWay("a wildcard", wildcard, HOST, "", ROOT.certificate));
    all.add(
        oneWay(
            "a wildcard, a level deeper",
            wildcard,
            "a." + HOST,
            "host-not-covered",
            ROOT.certificate));
    all.add(served("a client's", client(ISSUING, b -> {}), "not-for-servers"));
    all.add(served("for both", server(ISSUING, b -> b.extendedKeyUsage(Use.BOTH.purposes())), ""));
    all.add(
        served(
            "for any use", server(ISSUING, b -> b.extendedKeyUsage(List.of(Oids.ANY_USAGE))), ""));
    all.add(
        served(
            "for signing code",
            server(ISSUING, b -> b.extendedKeyUsage(List.of(Oids.CODE_SIGNING))),
            "not-for-servers"));
    all.add(
        served(
            "key usage without signing",
            server(ISSUING, b -> b.keyUsage(Set.of(KeyUsage.KEY_AGREEMENT))),
            "key-usage-forbids"));
    all.add(
        served(
            "key usage with signing",
            server(ISSUING, b -> b.keyUsage(Set.of(KeyUsage.DIGITAL_SIGNATURE))),
            ""));
    Signer noAuthority =
        new Signer("No Authority", Optional.of(ROOT), CertificateBuilder::endEntity);
    all.add(
        served("issuer is no authority", server(noAuthority, b -> {}), "issuer-is-no-authority"));
    Signer shortPath = new Signer("Short", Optional.of(ROOT), b -> b.authority(OptionalInt.of(0)));
    Signer tooDeep = new Signer("Too Deep", Optional.of(shortPath), b -> {});
    all.add(served("path too long", server(tooDeep, b -> {}), "path-too-long"));
    Signer constrained =
        new Signer(
            "Constrained",
            Optional.of(ROOT),
            b ->
                b.nameConstraints(
                    new NameConstraints(
                        List.of(NameConstraints.Area.parse("other.example")), List.of())));
    all.add(served("a host not permitted", server(constrained, b -> {}), "name-not-permitted"));
    KeyPair own = ec();
    Certificate selfSigned =
        CertificateBuilder.of(name(HOST), SubjectPublicKeyInfo.of(own.getPublic()))
            .validity(FROM, NOW.plus(YEAR))
            .endEntity()
            .alternativeNames(List.of(GeneralName.ofHost(HOST)))
            .signSelf(own.getPrivate(), RANDOM);
    Credential lab = Credential.ofPair(own, List.of(selfSigned));
    all.add(served("self-signed", lab, "self-signed-not-trusted"));
    all.add(oneWay("self-signed and trusted", lab, HOST, "", selfSigned));
    for (String digest : List.of("MD5", "SHA1")) {
      Credential weak = signedWith(digest);
      // SHA-1 is refused by Java only of public authorities; it is a finding all the same.
      all.add(
          oneWay(
              "signed with " + digest,
              weak,
              HOST,
              digest.equals("MD5") ? "weak-signature" : "",
              weak.chain().get(1)));
    }
    all.add(served("a weak key", leaf(ISSUING, rsa(768), Use.SERVER, HOST, b -> {}), "weak-key"));
    all.add(
        served(
            "a critical extension nobody knows",
            server(
                ISSUING,
                b -> b.add(new io.symbolon.x509.Extension(Oid.of("1.2.3.4.5"), true, Der.nul()))),
            "unknown-critical-extension"));
    all.add(
        served(
            "no alternative name",
            leaf(ISSUING, ec(), Use.CLIENT, HOST, b -> b.extendedKeyUsage(Use.SERVER.purposes())),
            ""));

    for (KeyKind kind : List.of(KeyKind.RSA_2048, KeyKind.EC_P384, KeyKind.ED25519)) {
      all.add(
          mutual(
              "good " + kind,
              Optional.of(leaf(ISSUING, kind.generate(RANDOM), Use.CLIENT, "buoy-017", b -> {})),
              ""));
    }
    Credential buoy = client(ISSUING, b -> {});
    Certificate[] crowd = many.clone();
    crowd[0] = buoy.certificate();
    all.add(mutual("twelve certificates", Optional.of(with(buoy, crowd)), "too-much-sent"));
    all.add(mutual("a certificate of 40 KB", Optional.of(client(ISSUING, bulky)), "too-much-sent"));
    all.add(mutual("none", Optional.empty(), "no-client-certificate"));
    all.add(
        mutual(
            "of another authority",
            Optional.of(client(elsewhere, b -> {})),
            "client-authority-not-named"));
    all.add(
        mutual(
            "of an authority of the same name",
            Optional.of(client(NAMESAKE, b -> {})),
            "root-not-trusted"));
    all.add(
        mutual(
            "expired",
            Optional.of(client(ISSUING, b -> b.validity(FROM, NOW.minusSeconds(60)))),
            "expired"));
    all.add(
        mutual(
            "not yet valid",
            Optional.of(
                client(ISSUING, b -> b.validity(NOW.plus(Duration.ofDays(2)), NOW.plus(YEAR)))),
            "not-yet-valid"));
    all.add(mutual("a server's", Optional.of(server(ISSUING, b -> {})), "not-for-clients"));
    all.add(
        mutual(
            "intermediate missing",
            Optional.of(with(buoy, buoy.certificate())),
            "client-authority-not-named"));
    all.add(
        mutual(
            "intermediate trusted",
            Optional.of(with(buoy, buoy.certificate())),
            "",
            ISSUING.certificate));
    all.add(mutual("self-signed", Optional.of(lab), "client-authority-not-named"));
    all.add(
        mutual(
            "key usage without signing",
            Optional.of(client(ISSUING, b -> b.keyUsage(Set.of(KeyUsage.KEY_AGREEMENT)))),
            "key-usage-forbids"));
    all.add(mutual("path too long", Optional.of(client(tooDeep, b -> {})), "path-too-long"));
    return all;
  }
}
