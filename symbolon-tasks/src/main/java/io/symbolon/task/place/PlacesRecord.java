// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.place;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonPropertyOrder;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Where a certificate that an account obtained is shown, as it is stored beside its order.
 *
 * @param version the version of this form
 * @param places the servers that show it
 * @param programs programs of the administrator's own that are started for each new one
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
@JsonPropertyOrder({"version", "places", "programs"})
public record PlacesRecord(
    @JsonProperty(required = true) int version,
    @JsonProperty(required = true) List<Place> places,
    @Nullable List<Program> programs) {
  /** The version that is written. */
  public static final int VERSION = 1;

  /** Nothing that is shown anywhere. */
  public static final PlacesRecord NONE = new PlacesRecord(VERSION, List.of(), null);

  /** Copies the lists. */
  public PlacesRecord {
    places = List.copyOf(places);
    programs = programs == null || programs.isEmpty() ? null : List.copyOf(programs);
  }

  /** {@return the programs; none where there are none} */
  public List<Program> allPrograms() {
    return programs == null ? List.of() : programs;
  }

  /** {@return the same with other servers} */
  public PlacesRecord with(List<Place> servers) {
    return new PlacesRecord(VERSION, servers, programs);
  }

  /** {@return the same with other programs} */
  public PlacesRecord withPrograms(List<Program> all) {
    return new PlacesRecord(VERSION, places, all);
  }

  /**
   * A server at which {@code configure} has put it.
   *
   * @param server the server's word
   * @param home where its settings are, as a whole path
   * @param site which of its places
   * @param port the port of that place, where the name alone does not say which one is meant
   * @param hosts the names by which clients ask for it
   * @param folder where its files go, where that was said
   * @param form the form of its files, where that was said
   * @param owner {@code USER} or {@code USER:GROUP}, where that was said
   * @param mayChange which places may change besides
   * @param credential the files that it is made of, as whole paths
   * @param unlock where the passwords of these files come from; never the passwords
   * @param shown the SHA-256 fingerprints of the certificates that were put there last
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  @JsonPropertyOrder({
    "server",
    "home",
    "site",
    "port",
    "hosts",
    "folder",
    "form",
    "owner",
    "mayChange",
    "credential",
    "unlock",
    "shown"
  })
  public record Place(
      @JsonProperty(required = true) String server,
      @JsonProperty(required = true) String home,
      @JsonProperty(required = true) String site,
      @Nullable Integer port,
      @Nullable List<String> hosts,
      @Nullable String folder,
      @Nullable String form,
      @Nullable String owner,
      @Nullable List<String> mayChange,
      @JsonProperty(required = true) List<String> credential,
      @Nullable List<Source> unlock,
      @JsonProperty(required = true) List<String> shown) {
    /** {@return whether it is the same place, whatever is put there} */
    public boolean isSame(Place other) {
      return server.equals(other.server)
          && home.equals(other.home)
          && site.equals(other.site)
          && java.util.Objects.equals(port, other.port);
    }

    /** {@return what it is called where places of several servers are} */
    @JsonIgnore
    public String title() {
      return server + " " + site;
    }

    /** {@return the same with other certificates in it} */
    public Place showing(List<String> fingerprints) {
      return new Place(
          server,
          home,
          site,
          port,
          hosts,
          folder,
          form,
          owner,
          mayChange,
          credential,
          unlock,
          List.copyOf(fingerprints));
    }
  }

  /**
   * A program that is started for each new certificate.
   *
   * @param path the program, as a whole path
   * @param told the SHA-256 fingerprint of the certificate for which it has last ended well; empty
   *     where it has not
   */
  public record Program(
      @JsonProperty(required = true) String path, @JsonProperty(required = true) String told) {}

  /**
   * Where a password comes from; never the password.
   *
   * @param from {@code file}, {@code env}, {@code ask} or {@code empty}
   * @param name the path or the variable
   */
  @JsonInclude(JsonInclude.Include.NON_EMPTY)
  public record Source(@JsonProperty(required = true) String from, @Nullable String name) {}
}
