// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renewal;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.PasswordRecipe;
import io.symbolon.task.PasswordSource;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * How a certificate is ordered again when its time has come: for which hosts, where it goes, how it
 * is protected, how control of the hosts is proven, and which server takes it. It holds no
 * password, and what it names stands in it with whole paths.
 *
 * <p>It outlives the run that made it, as versioned JSON ({@link RenewalText}).
 */
public final class RenewalJob {
  private final List<HostName> hosts;
  private final Path path;
  private final Builder parts;

  private RenewalJob(Builder parts) {
    this.hosts = List.copyOf(parts.hosts);
    this.path = parts.path;
    this.parts = parts;
  }

  /**
   * {@return a job to be completed}
   *
   * @param hosts the hosts that the certificate is for; at least one
   * @param path where key and certificate go: a file, or a folder for a file each
   */
  public static Builder of(List<HostName> hosts, Path path) {
    return new Builder(hosts, path);
  }

  /** {@return the hosts that the certificate is for} */
  public List<HostName> hosts() {
    return hosts;
  }

  /** {@return where key and certificate go} */
  public Path path() {
    return path;
  }

  /** {@return whether that is a folder, in which each object gets a file of its own} */
  public boolean isFolder() {
    return parts.folder;
  }

  /** {@return the format, where it is not the one that the name tells} */
  public Optional<Format> format() {
    return Optional.ofNullable(parts.format);
  }

  /** {@return the alias in a keystore, where it is said} */
  public Optional<String> alias() {
    return Optional.ofNullable(parts.alias);
  }

  /** {@return to whom the files shall belong, where it is said} */
  public Optional<Owner> owner() {
    return Optional.ofNullable(parts.owner);
  }

  /** {@return the kind of the new keys, where it is said} */
  public Optional<KeyKind> keyKind() {
    return Optional.ofNullable(parts.keyKind);
  }

  /** {@return the form of a private key in PEM and DER} */
  public KeyForm keyForm() {
    return parts.keyForm;
  }

  /** {@return whether the private key is not encrypted} */
  public boolean isUnsealed() {
    return parts.unsealed;
  }

  /** {@return where the password of the file comes from} */
  public Optional<PasswordSource> seal() {
    return Optional.ofNullable(parts.seal);
  }

  /**
   * {@return where the password of the keys in a keystore comes from, where they have their own}
   */
  public Optional<PasswordSource> keySeal() {
    return Optional.ofNullable(parts.keySeal);
  }

  /** {@return how strongly the file is protected, where it is said} */
  public Optional<Pkcs12Strength> strength() {
    return Optional.ofNullable(parts.strength);
  }

  /** {@return how new passwords are made} */
  public PasswordRecipe recipe() {
    return parts.recipe;
  }

  /** {@return whether a line end follows a new password in its file} */
  public boolean hasLineEnd() {
    return parts.lineEnd;
  }

  /** {@return where the passwords come from that open what is there already} */
  public List<PasswordSource> unlock() {
    return List.copyOf(parts.unlock);
  }

  /** {@return the name of the root that the chain shall lead to, where it is said} */
  public Optional<String> root() {
    return Optional.ofNullable(parts.root);
  }

  /** {@return how control of the hosts is proven; the usual way where it is empty} */
  public List<ProofWay> proofs() {
    return List.copyOf(parts.proofs);
  }

  /** {@return the file with the key for updates of the DNS} */
  public Optional<Path> dnsKey() {
    return Optional.ofNullable(parts.dnsKey);
  }

  /** {@return the server that takes the new files, by its word} */
  public Optional<String> server() {
    return Optional.ofNullable(parts.server);
  }

  /** {@return where the settings of that server are, where it is said} */
  public Optional<Path> home() {
    return Optional.ofNullable(parts.home);
  }

  /** Makes a job; what is not said is as it usually is. */
  public static final class Builder {
    private final List<HostName> hosts;
    private final Path path;
    private boolean folder;
    private @Nullable Format format;
    private @Nullable String alias;
    private @Nullable Owner owner;
    private @Nullable KeyKind keyKind;
    private KeyForm keyForm = KeyForm.PKCS8;
    private boolean unsealed;
    private @Nullable PasswordSource seal;
    private @Nullable PasswordSource keySeal;
    private @Nullable Pkcs12Strength strength;
    private PasswordRecipe recipe = PasswordRecipe.USUAL;
    private boolean lineEnd = true;
    private final List<PasswordSource> unlock = new ArrayList<>();
    private @Nullable String root;
    private final List<ProofWay> proofs = new ArrayList<>();
    private @Nullable Path dnsKey;
    private @Nullable String server;
    private @Nullable Path home;

    private Builder(List<HostName> hosts, Path path) {
      this.hosts = hosts;
      this.path = path;
    }

    private Builder(Builder other) {
      this(List.copyOf(other.hosts), other.path);
      folder = other.folder;
      format = other.format;
      alias = other.alias;
      owner = other.owner;
      keyKind = other.keyKind;
      keyForm = other.keyForm;
      unsealed = other.unsealed;
      seal = other.seal;
      keySeal = other.keySeal;
      strength = other.strength;
      recipe = other.recipe;
      lineEnd = other.lineEnd;
      unlock.addAll(other.unlock);
      root = other.root;
      proofs.addAll(other.proofs);
      dnsKey = other.dnsKey;
      server = other.server;
      home = other.home;
    }

    /** {@return this, for a folder in which each object gets a file of its own} */
    public Builder folder() {
      folder = true;
      return this;
    }

    /** {@return this, in a format that the name does not tell} */
    public Builder format(Format format) {
      this.format = format;
      return this;
    }

    /** {@return this, with an alias in a keystore} */
    public Builder alias(String alias) {
      this.alias = alias;
      return this;
    }

    /**
     * {@return this, for an owner}
     *
     * @param owner to whom the files shall belong
     */
    public Builder owner(Owner owner) {
      this.owner = owner;
      return this;
    }

    /** {@return this, with keys of a kind} */
    public Builder keyKind(KeyKind kind) {
      this.keyKind = kind;
      return this;
    }

    /**
     * {@return this, with a private key that is not encrypted}
     *
     * @param form its form in PEM and DER
     */
    public Builder unsealed(KeyForm form) {
      this.unsealed = true;
      this.keyForm = form;
      return this;
    }

    /**
     * {@return this, protected with a password}
     *
     * @param source where it comes from
     */
    public Builder seal(PasswordSource source) {
      this.seal = source;
      return this;
    }

    /**
     * {@return this, with another password for the keys in a keystore}
     *
     * @param source where it comes from
     */
    public Builder keySeal(PasswordSource source) {
      this.keySeal = source;
      return this;
    }

    /**
     * {@return this, protected in a way that is said}
     *
     * @param strength how strongly
     */
    public Builder strength(Pkcs12Strength strength) {
      this.strength = strength;
      return this;
    }

    /**
     * {@return this, with new passwords made and saved otherwise than usual}
     *
     * @param recipe how they are made
     * @param lineEnd whether a line end follows in the file
     */
    public Builder newPassword(PasswordRecipe recipe, boolean lineEnd) {
      this.recipe = recipe;
      this.lineEnd = lineEnd;
      return this;
    }

    /**
     * {@return this, with a password for what is there already}
     *
     * @param source where it comes from
     */
    public Builder unlock(PasswordSource source) {
      this.unlock.add(source);
      return this;
    }

    /** {@return this, with a chain that leads to a root} */
    public Builder root(String name) {
      this.root = name;
      return this;
    }

    /** {@return this, with one more way to prove control of a host} */
    public Builder proof(ProofWay way) {
      this.proofs.add(way);
      return this;
    }

    /** {@return this, with a key for updates of the DNS} */
    public Builder dnsKey(Path file) {
      this.dnsKey = file;
      return this;
    }

    /**
     * {@return this, with a server that takes the new files}
     *
     * @param word the server's word
     */
    public Builder server(String word) {
      this.server = word;
      return this;
    }

    /**
     * {@return this, with the place of that server's settings}
     *
     * @param home the folder or file
     */
    public Builder home(Path home) {
      this.home = home;
      return this;
    }

    /**
     * {@return the job}
     *
     * @throws SymbolonException if it is for no host, or what belongs together is not there
     */
    public RenewalJob build() {
      if (hosts.isEmpty()) {
        throw incomplete("It is for no host.");
      }
      if (dnsKey != null && proofs.stream().noneMatch(one -> one.kind() == ProofWay.Kind.DNS)) {
        throw incomplete("It has a key for the DNS, and no name server.");
      }
      if (home != null && server == null) {
        throw incomplete("It has the settings of a server, and no server.");
      }
      return new RenewalJob(new Builder(this));
    }

    private static SymbolonException incomplete(String seen) {
      return new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "This is no whole job of a renewal.",
          seen,
          "Say what is missing.");
    }
  }
}
