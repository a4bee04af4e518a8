// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.rule;

import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.oid.Oid;
import io.symbolon.x509.GeneralName;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What a receiver of requests wants to see in them. Immutable.
 *
 * @param receiver who it is, for messages
 * @param parts what is wanted of each part of the subject, in the order to ask for them
 * @param otherParts whether parts that are not listed may be there
 * @param hosts what is wanted of the subject alternative names
 * @param keys the kinds of key that are taken; empty for all
 * @param uses the uses that are taken; empty for all
 */
public record Rules(
    String receiver,
    Map<Oid, PartRule> parts,
    boolean otherParts,
    HostRule hosts,
    List<KeyKind> keys,
    Set<Use> uses) {
  /** Copies the collections, in their order. */
  public Rules {
    parts = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(parts));
    keys = List.copyOf(keys);
    uses = Set.copyOf(uses);
  }

  /** Whether a part of a name has to be there. */
  public enum Presence {
    /** It has to. */
    REQUIRED,
    /** It may. */
    OPTIONAL,
    /** It must not. */
    FORBIDDEN
  }

  /** What the value of a part has to be. */
  public enum Form {
    /** Any text. */
    TEXT,
    /** A country code of ISO 3166-1. */
    COUNTRY,
    /** A place, spelled out. */
    PLACE,
    /** A whole host name. */
    HOST,
    /** An e-mail address. */
    EMAIL
  }

  /**
   * What is wanted of a part of the subject.
   *
   * @param presence whether it has to be there
   * @param values the only values that are taken; empty for any
   * @param pattern a regular expression for the whole value
   * @param says the same in words, for messages
   * @param least the fewest characters
   * @param most the most characters
   * @param form what the value has to be
   * @param times how often the part may be there
   */
  public record PartRule(
      Presence presence,
      List<String> values,
      Optional<String> pattern,
      Optional<String> says,
      int least,
      int most,
      Form form,
      int times) {
    /** Any value, or none. */
    public static final PartRule ANY =
        new PartRule(
            Presence.OPTIONAL,
            List.of(),
            Optional.empty(),
            Optional.empty(),
            0,
            Integer.MAX_VALUE,
            Form.TEXT,
            Integer.MAX_VALUE);

    /**
     * Copies the values.
     *
     * @param presence whether it has to be there
     * @param says the rule in words
     * @param times how often
     */
    public PartRule {
      values = List.copyOf(values);
    }
  }

  /**
   * What is wanted of the subject alternative names.
   *
   * @param wildcards whether a wildcard is taken
   * @param www whether a host that begins with {@code www.} is taken
   * @param qualified whether every host has to be a whole name with its domain
   * @param domains the domains that all hosts have to lie in; empty for any
   * @param kinds the kinds of name that are taken; empty for all
   * @param least the fewest names
   * @param most the most names
   */
  public record HostRule(
      boolean wildcards,
      boolean www,
      boolean qualified,
      List<String> domains,
      Set<GeneralName.NameForm> kinds,
      int least,
      int most) {
    /** Any names, or none. */
    public static final HostRule ANY =
        new HostRule(true, true, false, List.of(), Set.of(), 0, Integer.MAX_VALUE);

    /**
     * Copies the collections.
     *
     * @param wildcards whether wildcards are allowed
     * @param www whether names that begin with www are allowed
     * @param qualified whether only full names are allowed
     */
    public HostRule {
      domains = List.copyOf(domains);
      kinds = Set.copyOf(kinds);
    }
  }
}
