// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import io.symbolon.party.ProtocolVersion;
import io.symbolon.probe.StartWith;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * A place of a server's settings where it speaks TLS, or could: a connector, a site, a listener, a
 * bundle. Each fact is what the settings say, or the server's default where they say nothing, or
 * not understood.
 */
public final class TlsPlace {
  private final PlaceId id;
  private final String name;
  private final String kind;
  private final Origin origin;
  private final List<Endpoint> endpoints;
  private final Mode mode;
  private final List<String> hosts;
  private final List<UsedFile> files;
  private final @Nullable String protocols;
  private final Set<ProtocolVersion> versions;
  private final @Nullable String ciphers;
  private final @Nullable String account;
  private final @Nullable Integer depth;
  private final @Nullable StartWith startWith;
  private final List<NotUnderstood> notUnderstood;

  private TlsPlace(Builder builder) {
    this.id = builder.id;
    this.name = builder.name;
    this.kind = builder.kind;
    this.origin = builder.origin;
    this.endpoints = List.copyOf(builder.endpoints);
    this.mode = builder.mode;
    this.hosts = List.copyOf(builder.hosts);
    this.files = List.copyOf(builder.files);
    this.protocols = builder.protocols;
    this.versions = Set.copyOf(builder.versions);
    this.ciphers = builder.ciphers;
    this.account = builder.account;
    this.depth = builder.depth;
    this.startWith = builder.startWith;
    this.notUnderstood = List.copyOf(builder.notUnderstood);
  }

  /**
   * {@return a place in clear text, of which nothing else is known yet}
   *
   * @param id what it is known by
   * @param origin where it stands
   * @param name the name by which it is chosen
   * @param kind what the server's own documents call it, such as {@code server block}
   */
  public static Builder at(PlaceId id, Origin origin, String name, String kind) {
    return new Builder(id, origin, name, kind);
  }

  /** {@return what it is known by} */
  public PlaceId id() {
    return id;
  }

  /** {@return the name by which it is chosen; two places may have the same} */
  public String name() {
    return name;
  }

  /** {@return what the server's own documents call it} */
  public String kind() {
    return kind;
  }

  /** {@return where it stands} */
  public Origin origin() {
    return origin;
  }

  /** {@return the addresses it listens on} */
  public List<Endpoint> endpoints() {
    return endpoints;
  }

  /** {@return who shows a certificate} */
  public Mode mode() {
    return mode;
  }

  /** {@return the names that clients ask for, as the settings have them} */
  public List<String> hosts() {
    return hosts;
  }

  /** {@return the files that it names} */
  public List<UsedFile> files() {
    return files;
  }

  /** {@return the files of a role} */
  public List<UsedFile> files(FileRole role) {
    return files.stream().filter(file -> file.role() == role).toList();
  }

  /**
   * {@return the protocol versions that are in force, as the server writes them; nothing where no
   * setting says so}
   */
  public Optional<String> protocols() {
    return Optional.ofNullable(protocols);
  }

  /**
   * {@return the protocol versions that are in force; empty where no setting says so, or its words
   * are not understood}
   */
  public Set<ProtocolVersion> versions() {
    return versions;
  }

  /**
   * {@return the cipher suites that are in force, as the server writes them; nothing where no
   * setting says so}
   */
  public Optional<String> ciphers() {
    return Optional.ofNullable(ciphers);
  }

  /** {@return the account that reads its files} */
  public Optional<String> account() {
    return Optional.ofNullable(account);
  }

  /** {@return how many certificates may stand above a client's; nothing where nothing limits it} */
  public Optional<Integer> depth() {
    return Optional.ofNullable(depth);
  }

  /** {@return what speaks in clear text before TLS} */
  public Optional<StartWith> startWith() {
    return Optional.ofNullable(startWith);
  }

  /** {@return what the settings say of it that is not understood} */
  public List<NotUnderstood> notUnderstood() {
    return notUnderstood;
  }

  /** {@return whether a fact is known: said by a setting, or the server's default} */
  public boolean isKnown(Aspect aspect) {
    return notUnderstood.stream().noneMatch(one -> one.aspect() == aspect);
  }

  /** {@return whether it speaks TLS} */
  public boolean isTls() {
    return mode.isTls();
  }

  @Override
  public String toString() {
    return kind + " " + name + " (" + origin + "), " + mode.word() + ", " + files;
  }

  /** A place while it is read. Not for several threads. */
  public static final class Builder {
    private final PlaceId id;
    private final Origin origin;
    private final String name;
    private final String kind;
    private List<Endpoint> endpoints = List.of();
    private Mode mode = Mode.CLEAR;
    private List<String> hosts = List.of();
    private List<UsedFile> files = List.of();
    private @Nullable String protocols;
    private Set<ProtocolVersion> versions = EnumSet.noneOf(ProtocolVersion.class);
    private @Nullable String ciphers;
    private @Nullable String account;
    private @Nullable Integer depth;
    private @Nullable StartWith startWith;
    private final List<NotUnderstood> notUnderstood = new ArrayList<>();

    private Builder(PlaceId id, Origin origin, String name, String kind) {
      this.id = id;
      this.origin = origin;
      this.name = name;
      this.kind = kind;
    }

    /**
     * Takes the addresses.
     *
     * @return this
     */
    public Builder endpoints(List<Endpoint> all) {
      this.endpoints = all;
      return this;
    }

    /**
     * Takes who shows a certificate.
     *
     * @return this
     */
    public Builder mode(Mode who) {
      this.mode = who;
      return this;
    }

    /**
     * Takes the names that clients ask for.
     *
     * @return this
     */
    public Builder hosts(List<String> names) {
      this.hosts = names;
      return this;
    }

    /**
     * Takes the files that it names.
     *
     * @return this
     */
    public Builder files(List<UsedFile> named) {
      this.files = named;
      return this;
    }

    /**
     * Takes the protocol versions.
     *
     * @param words as the server writes them
     * @param meant what they mean; empty where they are not understood
     * @return this
     */
    public Builder protocols(String words, Set<ProtocolVersion> meant) {
      this.protocols = words.isEmpty() ? null : words;
      this.versions = meant;
      return this;
    }

    /**
     * Takes the protocol versions, in words that all servers have.
     *
     * @param words as the server writes them; nothing where no setting says so
     * @return this
     */
    public Builder protocols(Optional<String> words) {
      words.ifPresent(text -> protocols(text, VersionWords.of(text)));
      return this;
    }

    /**
     * Takes the cipher suites.
     *
     * @param words as the server writes them; nothing where no setting says so
     * @return this
     */
    public Builder ciphers(Optional<String> words) {
      this.ciphers = words.orElse(null);
      return this;
    }

    /**
     * Takes the account that reads its files.
     *
     * @param who the account; nothing where it is not known
     * @return this
     */
    public Builder account(Optional<String> who) {
      this.account = who.orElse(null);
      return this;
    }

    /**
     * Takes how many certificates may stand above a client's.
     *
     * @return this
     */
    public Builder depth(int most) {
      this.depth = most;
      return this;
    }

    /**
     * Takes what speaks in clear text before TLS.
     *
     * @param before what speaks; nothing where TLS begins at once
     * @return this
     */
    public Builder startWith(Optional<StartWith> before) {
      this.startWith = before.orElse(null);
      return this;
    }

    /**
     * Notes what is not understood.
     *
     * @return this
     */
    public Builder notUnderstood(List<NotUnderstood> all) {
      notUnderstood.addAll(all);
      return this;
    }

    /** {@return the place} */
    public TlsPlace build() {
      return new TlsPlace(this);
    }
  }
}
