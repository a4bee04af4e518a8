// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renewal;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonPropertyOrder;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A job of renewing as it is stored, part for part. What is left out is as it usually is.
 *
 * @param version the version of this form
 * @param into where key and certificate go
 * @param key how the private key is made and protected
 * @param root the root that the chain shall lead to
 * @param unlock where passwords come from that open what is there
 * @param proofs how control of the hosts is proven
 * @param dnsKey the file with the key for updates of the DNS
 * @param reload the server that takes the new files
 */
@JsonInclude(JsonInclude.Include.NON_EMPTY)
@JsonPropertyOrder({
  "version", "hosts", "into", "key", "root", "unlock", "proofs", "dnsKey", "reload"
})
public record RenewalRecord(
    @JsonProperty(required = true) int version,
    @JsonProperty(required = true) List<String> hosts,
    @JsonProperty(required = true) Into into,
    @Nullable Key key,
    @Nullable String root,
    @Nullable List<Source> unlock,
    @Nullable List<Proof> proofs,
    @Nullable String dnsKey,
    @Nullable Reload reload) {
  /** The version that is written. */
  public static final int VERSION = 2;

  /**
   * Where key and certificate go.
   *
   * @param path the whole path
   * @param folder true for a folder in which each object gets a file of its own
   * @param format the format's word, where the name does not tell it
   * @param alias the alias in a keystore
   * @param owner {@code USER} or {@code USER:GROUP}
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record Into(
      @JsonProperty(required = true) String path,
      @Nullable Boolean folder,
      @Nullable String format,
      @Nullable String alias,
      @Nullable String owner) {}

  /**
   * How the private key is made and protected.
   *
   * @param kind the kind's word
   * @param unsealed true where it is not encrypted
   * @param form {@code pkcs1} or {@code sec1}, where it is not PKCS#8
   * @param seal where the password of the file comes from
   * @param keySeal where the password of the keys in a keystore comes from
   * @param protection the word of the protection
   * @param newPassword how new passwords are made
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record Key(
      @Nullable String kind,
      @Nullable Boolean unsealed,
      @Nullable String form,
      @Nullable Source seal,
      @Nullable Source keySeal,
      @Nullable String protection,
      @Nullable NewPassword newPassword) {}

  /**
   * Where a password comes from; never the password.
   *
   * @param from {@code file}, {@code env}, {@code ask} or {@code empty}
   * @param name the path or the variable
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record Source(@JsonProperty(required = true) String from, @Nullable String name) {}

  /**
   * How new passwords are made and saved.
   *
   * @param length how many characters
   * @param without the characters that are left out
   * @param lineEnd false where no line end follows in the file
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record NewPassword(
      @JsonProperty(required = true) int length,
      @Nullable String without,
      @JsonProperty(required = true) boolean lineEnd) {}

  /**
   * How control of a host is proven.
   *
   * @param kind the word of the way
   * @param value what it needs
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record Proof(@JsonProperty(required = true) String kind, @Nullable String value) {}

  /**
   * A server that takes the new files.
   *
   * @param server its word
   * @param home where its settings are
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record Reload(@JsonProperty(required = true) String server, @Nullable String home) {}
}
