// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.cli.MadeFiles.Shown;
import io.symbolon.cli.Meetings.Asked;
import io.symbolon.cli.Meetings.Met;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;

/** Holds what is told of a server against what clients met. */
final class MadeJudge {
  private final Meetings meetings;
  private final MadeFiles files;
  private final List<String> differs;
  private final List<String> tally;

  /** What differs, and what is to be counted, is added to these lists. */
  MadeJudge(Meetings meetings, MadeFiles files, List<String> differs, List<String> tally) {
    this.meetings = meetings;
    this.files = files;
    this.differs = differs;
    this.tally = tally;
  }

  void compare(JsonNode read, Map<Asked, Met> met) {
    TreeSet<Integer> told = new TreeSet<>();
    Map<Asked, String> taken = new HashMap<>();
    boolean unknown = read.findValuesAsText("id").contains("setting-not-understood");
    for (JsonNode place : read.get("places")) {
      String where = place.get("name").asText() + " (" + place.get("where").asText() + ")";
      String mode = place.get("mode").asText();
      place.get("addresses").forEach(address -> told.add(address.get("port").asInt()));
      if (mode.equals("unknown")) {
        unknown = true;
        tally.add("place unknown");
        continue;
      }
      tally.add("place " + mode);
      List<String> problems = new ArrayList<>(problems(place.get("findings")));
      problems.addAll( // of the server, where this place stands
          Meetings.each(read.get("findings"))
              .filter(one -> one.get("where").asText().equals(place.get("where").asText()))
              .filter(MadeJudge::isProblem)
              .map(one -> one.get("id").asText())
              .toList());
      for (JsonNode address : place.get("addresses")) {
        int port = address.get("port").asInt();
        for (String name : meetings.names(place)) {
          Asked asked = new Asked(Meetings.address(address), port, name);
          Met one = met.get(asked);
          boolean hidden = Meetings.isHidden(read, address);
          if (hidden
              || taken.putIfAbsent(asked, where) != null
              || (name.isEmpty() && Meetings.hasOthers(read, address))) {
            continue; // whom it reaches is not this place's to say
          }
          String at = where + " at " + port + (name.isEmpty() ? "" : " as " + name) + ": ";
          if (one == null) {
            differs.add(at + "told, and nobody listens");
          } else if (!address.get("tls").asBoolean()
              || mode.equals("clear")
              || mode.equals("rejecting")) {
            if (one.speaksTls()) {
              differs.add(at + "told as " + mode + ", and it speaks TLS");
            }
          } else {
            judge(at, place, one, problems);
          }
        }
      }
    }
    for (Asked asked : met.keySet()) {
      if (!told.contains(asked.port()) && !unknown) {
        differs.add("port " + asked.port() + " listens, and is not told");
      }
    }
  }

  static List<String> problems(JsonNode findings) {
    return Meetings.each(findings)
        .filter(MadeJudge::isProblem)
        .map(one -> one.get("id").asText() + ": " + one.get("statement").asText())
        .toList();
  }

  private static boolean isProblem(JsonNode finding) {
    return finding.get("level").asText().equals("problem");
  }

  private void judge(String at, JsonNode place, Met met, List<String> problems) {
    String mode = place.get("mode").asText();
    TreeSet<String> shows = new TreeSet<>();
    place.get("shows").forEach(chain -> shows.add(chain.at("/0/sha256").asText()));
    boolean works =
        met.served().values().contains(true)
            || (mode.equals("mutual") && place.get("trusts").isEmpty());
    if (!met.speaksTls()) {
      if (problems.isEmpty()) {
        differs.add(at + "told as " + mode + ", and no handshake gets to a certificate");
      }
      return;
    }
    if (!shows.containsAll(met.leaves())) {
      differs.add(at + "shows " + kinds(met.leaves()) + ", and told are " + kinds(shows));
    }
    String protocols = place.path("protocols").asText("");
    for (String version : List.of("TLSv1.2", "TLSv1.3")) {
      Optional<Boolean> told = offered(protocols, version);
      if (told.isPresent() && told.get() != met.offers(version)) {
        differs.add(
            at
                + "protocols told as "
                + protocols
                + ", "
                + version
                + (met.offers(version) ? " is" : " is not")
                + " answered");
      }
    }
    if (offered(protocols, "TLSv1.2").orElse(false) && !met.leaves().containsAll(shows)) {
      differs.add(at + "does not show every certificate that configure reports");
    }
    boolean none = met.isServed("");
    if (none == mode.equals("mutual")) {
      differs.add(
          at
              + "told as "
              + mode
              + ", and a client without a certificate is "
              + (none ? "served" : "refused"));
    }
    if (mode.equals("mutual")) {
      String trusts = place.get("trusts").findValuesAsText("subject").toString();
      Map<String, String> roots = Map.of("own", "Lanternfish Root", "reef", "Reef Root");
      roots.forEach(
          (client, root) -> {
            if (trusts.contains(root) != met.isServed(client)) {
              if (!(trusts.contains(root)
                  && problems.toString().matches(".*(depth-too-small|server-refuses).*"))) {
                differs.add(
                    at
                        + (trusts.contains(root) ? "trusts " : "does not trust ")
                        + root
                        + " as it is told, and its client is "
                        + (met.isServed(client) ? "served" : "refused"));
              }
            }
          });
    }
    List<String> wrong =
        problems.stream()
            .filter(one -> !one.startsWith("host-not-covered")) // these clients look at no name
            .filter(one -> !one.startsWith("account-cannot-read")) // it is started by root
            .filter(one -> !one.startsWith("depth-too-small") || met.isServed("own"))
            .toList();
    if (works && !wrong.isEmpty()) {
      differs.add(at + "works, and a problem is told: " + wrong);
    }
  }

  private List<String> kinds(Set<String> leaves) {
    return leaves.stream().map(files::kindOf).sorted().toList();
  }

  /** Whether the server's words offer the version; nothing where they are not of this kind. */
  private static Optional<Boolean> offered(String words, String version) {
    if (words.matches("(['\"]?(SSLv3|TLSv1(\\.[0-3])?)['\"]?[ ,]*)+")) {
      return Optional.of(Stream.of(words.split("[ ,'\"]+")).anyMatch(version::equals));
    }
    return Optional.empty();
  }

  /** A certificate that is shared by places may be renewed at all of them. */
  private boolean isSame(Met one, Met other) {
    Map<String, String> kinds = new TreeMap<>();
    one.shown().forEach((version, leaf) -> kinds.put(version, files.kindOf(leaf)));
    Map<String, String> others = new TreeMap<>();
    other.shown().forEach((version, leaf) -> others.put(version, files.kindOf(leaf)));
    return kinds.equals(others) && one.served().equals(other.served());
  }

  /** TLS is there where nothing was before. */
  void isThere(int port, List<Shown> fresh, String mode, Map<Asked, Met> after) {
    Optional<Met> met =
        after.entrySet().stream()
            .filter(one -> one.getKey().port() == port)
            .map(Map.Entry::getValue)
            .findFirst();
    boolean shown =
        met.filter(one -> fresh.stream().anyMatch(made -> one.leaves().contains(made.leaf())))
            .isPresent();
    if (!shown) {
      differs.add("port " + port + " does not show the new certificate");
    } else if (met.get().isServed("") == mode.equals("mutual")) {
      differs.add("port " + port + " is not in the mode " + mode);
    }
    tally.add(shown ? "first TLS seen" : "first TLS not seen");
  }

  /** The place shows what was wished for, and everything else what it showed. */
  void wished(
      JsonNode read,
      JsonNode place,
      List<Shown> fresh,
      String mode,
      Optional<Integer> newPort,
      Map<Asked, Met> before,
      Map<Asked, Met> after) {
    TreeSet<Asked> mine = new TreeSet<>(Comparator.comparing(Asked::toString));
    for (JsonNode address : place.get("addresses")) {
      if (address.get("tls").asBoolean() && !Meetings.isHidden(read, address)) {
        for (String name : meetings.names(place)) {
          mine.add(new Asked(Meetings.address(address), address.get("port").asInt(), name));
        }
      }
    }
    after.keySet().stream()
        .map(Asked::port)
        .distinct()
        .filter(port -> before.keySet().stream().noneMatch(one -> one.port() == port))
        .filter(port -> !newPort.equals(Optional.of(port)))
        .forEach(port -> differs.add("port " + port + " was opened without a wish"));
    boolean seen = false;
    for (Map.Entry<Asked, Met> one : before.entrySet()) {
      Met now = after.get(one.getKey());
      boolean nameless =
          one.getKey().name().isEmpty()
              && mine.stream().anyMatch(asked -> asked.port() == one.getKey().port());
      if (now == null) {
        differs.add(one.getKey() + " is not met any more");
      } else if (mine.contains(one.getKey())
          && !(one.getKey().name().isEmpty()
              && Meetings.hasOthers(read, one.getKey().address(), one.getKey().port()))) {
        seen = true;
        if (fresh.stream().noneMatch(made -> now.leaves().contains(made.leaf()))
            || (one.getValue().offers("TLSv1.2") && now.leaves().size() != fresh.size())) {
          differs.add(one.getKey() + " does not show the new certificates alone");
        }
        boolean mutual = mode.isEmpty() ? !one.getValue().isServed("") : mode.equals("mutual");
        if (now.isServed("") == mutual) {
          differs.add(
              one.getKey() + " is not " + (mode.isEmpty() ? "in the mode it was in" : mode));
        }
        if (mutual && !mode.isEmpty() && !now.isServed("own")) {
          differs.add(one.getKey() + " refuses the clients it was to trust");
        }
        for (String version : List.of("TLSv1.2", "TLSv1.3")) {
          if (now.offers(version) != one.getValue().offers(version)) {
            differs.add(one.getKey() + " offers another set of versions");
          }
        }
      } else if (!nameless && !isSame(now, one.getValue())) {
        differs.add(one.getKey() + " changed without a wish: " + one.getValue() + " -> " + now);
      }
    }
    tally.add(seen ? "wish seen" : "wish not to be seen");
  }
}
