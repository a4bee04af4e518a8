// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * The extensions of a certificate or request (RFC 5280, 4.2), in their order. A known extension
 * whose content is damaged counts as absent and is listed by {@link #damaged()}.
 */
public final class Extensions {
  private static final Extensions NONE = new Extensions(Map.of());

  private final Map<Oid, Extension> all;

  private Extensions(Map<Oid, Extension> all) {
    this.all = all;
  }

  /** {@return no extensions} */
  public static Extensions none() {
    return NONE;
  }

  static Extensions of(Collection<Extension> extensions) {
    Map<Oid, Extension> all = new LinkedHashMap<>();
    extensions.forEach(extension -> all.put(extension.oid(), extension));
    return new Extensions(all);
  }

  static Extensions read(Element element) {
    Map<Oid, Extension> all = new LinkedHashMap<>();
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    while (cursor.hasNext()) {
      Extension extension = Extension.read(cursor.next());
      if (all.put(extension.oid(), extension) != null) {
        throw SymbolonException.malformed(
            "certificate", "It has the extension " + extension.oid() + " twice.");
      }
    }
    return new Extensions(all);
  }

  byte[] encoding() {
    return Der.sequence(all.values().stream().map(Extension::encoding).toList());
  }

  /** {@return whether there are none} */
  public boolean isEmpty() {
    return all.isEmpty();
  }

  /** {@return all of them, in their order} */
  public List<Extension> all() {
    return List.copyOf(all.values());
  }

  /**
   * {@return one of them, raw}
   *
   * @param oid the object identifier
   */
  public Optional<Extension> find(Oid oid) {
    return Optional.ofNullable(all.get(oid));
  }

  private <T> Optional<T> read(Oid oid, Function<Element, T> reader) {
    try {
      return find(oid).map(extension -> reader.apply(Element.read(extension.value())));
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  /** {@return whether the certificate is an authority's, and how long a chain below it may be} */
  public Optional<BasicConstraints> basicConstraints() {
    return read(Oids.BASIC_CONSTRAINTS, BasicConstraints::read);
  }

  /** {@return what the key may be used for} */
  public Optional<Set<KeyUsage>> keyUsage() {
    return read(Oids.KEY_USAGE, element -> KeyUsage.of(element.namedBits()));
  }

  /** {@return the purposes the key may be used for} */
  public Optional<List<Oid>> extendedKeyUsage() {
    return read(
        Oids.EXT_KEY_USAGE,
        element -> {
          List<Oid> usages = new ArrayList<>();
          Cursor cursor = element.cursor(Tags.SEQUENCE);
          while (cursor.hasNext()) {
            usages.add(cursor.next().oid());
          }
          return List.copyOf(usages);
        });
  }

  /** {@return the subject alternative names; empty where there are none} */
  public List<GeneralName> subjectAlternativeNames() {
    return read(Oids.SUBJECT_ALT_NAME, GeneralName::readAll).orElse(List.of());
  }

  /** {@return the hosts that an authority may sign for} */
  public Optional<NameConstraints> nameConstraints() {
    return read(Oids.NAME_CONSTRAINTS, NameConstraints::read);
  }

  /** {@return the policies that the certificate was issued under; nothing where it names none} */
  public Optional<Set<Oid>> policies() {
    return read(
        Oids.CERTIFICATE_POLICIES,
        element -> {
          Set<Oid> policies = new java.util.LinkedHashSet<>();
          Cursor cursor = element.cursor(Tags.SEQUENCE);
          while (cursor.hasNext()) {
            policies.add(cursor.next().cursor(Tags.SEQUENCE).next().oid());
          }
          return Set.copyOf(policies);
        });
  }

  /**
   * For which policies of the subject each policy of the issuer stands (RFC 5280, 4.2.1.5).
   *
   * @return the map
   */
  public Map<Oid, Set<Oid>> policyMappings() {
    return read(
            Oids.POLICY_MAPPINGS,
            element -> {
              Map<Oid, Set<Oid>> mappings = new LinkedHashMap<>();
              Cursor cursor = element.cursor(Tags.SEQUENCE);
              while (cursor.hasNext()) {
                Cursor pair = cursor.next().cursor(Tags.SEQUENCE);
                mappings
                    .computeIfAbsent(pair.next().oid(), o -> new java.util.LinkedHashSet<>())
                    .add(pair.next().oid());
              }
              return mappings;
            })
        .orElse(Map.of());
  }

  /**
   * After how many more certificates a policy has to be named, and mappings count no more (RFC
   * 5280, 4.2.1.11).
   *
   * @return nothing where there is none
   */
  public Optional<PolicyConstraints> policyConstraints() {
    return read(Oids.POLICY_CONSTRAINTS, PolicyConstraints::read);
  }

  /**
   * After how many more certificates "any policy" counts no more (RFC 5280, 4.2.1.14).
   *
   * @return nothing where there is none
   */
  public Optional<Integer> inhibitAnyPolicy() {
    return read(Oids.INHIBIT_ANY_POLICY, element -> element.as(Tags.INTEGER).smallInteger());
  }

  /** {@return which certificates a revocation list is about (RFC 5280, 5.2.5)} */
  public Optional<ListScope> listScope() {
    return read(Oids.ISSUING_POINT, ListScope::read);
  }

  /** {@return whose certificate an entry of a revocation list is about, where that is said} */
  public Optional<DistinguishedName> certificateIssuer() {
    return read(
        Oids.CERTIFICATE_ISSUER,
        element -> DistinguishedName.read(element.cursor(Tags.SEQUENCE).next().only()).checked());
  }

  /** {@return a remark for people} */
  public Optional<String> comment() {
    return read(Oids.NETSCAPE_COMMENT, Element::text);
  }

  /** {@return the number of a revocation list} */
  public Optional<java.math.BigInteger> listNumber() {
    return read(Oids.CRL_NUMBER, Element::integer);
  }

  /** {@return why a certificate was revoked} */
  public Optional<RevocationReason> revocationReason() {
    return read(
        Oids.CRL_REASON,
        element -> RevocationReason.ofCode(element.as(Tags.INTEGER).smallInteger()));
  }

  /** {@return the subject key identifier} */
  public Optional<byte[]> subjectKeyIdentifier() {
    return read(Oids.SUBJECT_KEY_ID, Element::octets);
  }

  /** {@return the key identifier of the issuer} */
  public Optional<byte[]> authorityKeyIdentifier() {
    return read(
            Oids.AUTHORITY_KEY_ID,
            element ->
                element
                    .cursor(Tags.SEQUENCE)
                    .nextIf(Tags.contextPrimitive(0))
                    .map(Element::content))
        .flatMap(Function.identity());
  }

  /**
   * A certificate, named by its issuer and serial number.
   *
   * @param issuer who issued it
   * @param serial its serial number
   */
  public record Named(DistinguishedName issuer, java.math.BigInteger serial) {}

  /** {@return the issuer's certificate as the authority key identifier names it, if it does} */
  public Optional<Named> authorityCertificate() {
    return read(
            Oids.AUTHORITY_KEY_ID,
            element -> {
              Cursor cursor = element.cursor(Tags.SEQUENCE);
              cursor.nextIf(Tags.contextPrimitive(0));
              Optional<Element> issuer = cursor.nextIf(Tags.context(1));
              Optional<Element> serial = cursor.nextIf(Tags.contextPrimitive(2));
              if (issuer.isEmpty() || serial.isEmpty()) {
                return Optional.<Named>empty();
              }
              Element name = issuer.get().cursor().next();
              return name.tag() == Tags.context(4)
                  ? Optional.of(
                      new Named(
                          DistinguishedName.read(name.only()).checked(),
                          new java.math.BigInteger(serial.get().content())))
                  : Optional.<Named>empty();
            })
        .flatMap(Function.identity());
  }

  /** {@return the known extensions whose content can't be read} */
  public List<Oid> damaged() {
    List<Oid> damaged = new ArrayList<>();
    check(damaged, Oids.BASIC_CONSTRAINTS, basicConstraints().isPresent());
    check(damaged, Oids.KEY_USAGE, keyUsage().isPresent());
    check(damaged, Oids.EXT_KEY_USAGE, extendedKeyUsage().isPresent());
    check(
        damaged,
        Oids.SUBJECT_ALT_NAME,
        read(Oids.SUBJECT_ALT_NAME, GeneralName::readAll).isPresent());
    check(damaged, Oids.NAME_CONSTRAINTS, nameConstraints().isPresent());
    check(damaged, Oids.CERTIFICATE_POLICIES, policies().isPresent());
    check(damaged, Oids.POLICY_CONSTRAINTS, policyConstraints().isPresent());
    check(damaged, Oids.INHIBIT_ANY_POLICY, inhibitAnyPolicy().isPresent());
    check(damaged, Oids.ISSUING_POINT, listScope().isPresent());
    check(damaged, Oids.SUBJECT_KEY_ID, subjectKeyIdentifier().isPresent());
    check(
        damaged,
        Oids.AUTHORITY_KEY_ID,
        read(Oids.AUTHORITY_KEY_ID, element -> element.cursor(Tags.SEQUENCE)).isPresent());
    return damaged;
  }

  private void check(List<Oid> damaged, Oid oid, boolean readable) {
    if (all.containsKey(oid) && !readable) {
      damaged.add(oid);
    }
  }
}
