// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.cli.MadeFiles.Shown;
import io.symbolon.cli.Meetings.Asked;
import io.symbolon.cli.Meetings.Met;
import io.symbolon.fixture.FreePort;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;

/** One server with settings that a seed makes: read, met, changed, met again, put back. */
final class MadeCase {
  private static final List<String> TLS = List.of("one-way", "optional", "mutual");

  private final MadeServer server;

  private final Path home;
  private final Path log;
  private final MadeFiles files;
  private final Chance chance;
  private final List<Integer> ports = new ArrayList<>();
  private final List<String> differs = new ArrayList<>();
  private final Map<String, String> made = new TreeMap<>();
  private final List<String> tally = new ArrayList<>();
  private final Meetings meetings;
  private final MadeJudge judge;

  MadeCase(MadeServer server, int seed, Path home, MadeFiles files) throws IOException {
    this.server = server;
    this.home = Files.createDirectories(home);
    Files.setPosixFilePermissions(home, PosixFilePermissions.fromString("rwxr-xr-x"));
    this.log = home.resolveSibling(home.getFileName() + ".log");
    this.files = files;
    this.chance = new Chance(seed);
    for (int i = 0; i < 5; i++) {
      ports.add(FreePort.take());
    }
    this.meetings = new Meetings(server, ports);
    this.judge = new MadeJudge(meetings, files, differs, tally);
  }

  /** What came out, in words to be counted. */
  List<String> tally() {
    return tally;
  }

  /** {@return what was not as it was said; empty where all agrees} */
  List<String> run() throws IOException, InterruptedException {
    server.make(home, chance, files, ports);
    made.putAll(ConfiguredFiles.of(home));
    JsonNode read = read();
    Process running = start();
    if (running == null) {
      tally.add("not startable");
      if (MadeJudge.problems(read.get("findings")).isEmpty() && !isUnknown(read)) {
        differs.add("it does not start, and configure reports no problem: " + lastWords());
      }
      return differs;
    }
    Map<Asked, Met> before;
    try {
      before = meetings.meetAll(read);
      judge.compare(read, before);
    } finally {
      stop(running);
    }
    if (differs.isEmpty()) {
      change(read, before);
    }
    return differs;
  }

  /** Keeps the settings of a case that failed. */
  void keep(Path folder) throws IOException {
    for (Map.Entry<String, String> one : made.entrySet()) {
      Path file = folder.resolve(one.getKey());
      Files.createDirectories(file.resolve("..").normalize());
      Files.writeString(file, one.getValue());
    }
  }

  private JsonNode read() {
    Run run = Run.of("configure", server.kind(), "--home", home, "--json");
    return run.json().at("/servers/0");
  }

  private static boolean isUnknown(JsonNode read) {
    return read.findValuesAsText("mode").contains("unknown");
  }

  private String lastWords() throws IOException {
    String text = Files.exists(log) ? Files.readString(log) : "";
    return text.substring(Math.max(0, text.length() - 400));
  }

  /** Starts it; nothing where it ends again. */
  private @org.jspecify.annotations.Nullable Process start()
      throws IOException, InterruptedException {
    Process process =
        new ProcessBuilder(server.start(home))
            .directory(home.toFile())
            .redirectInput(Path.of("/dev/null").toFile())
            .redirectErrorStream(true)
            .redirectOutput(log.toFile())
            .start();
    long end = System.nanoTime() + TimeUnit.MINUTES.toNanos(3);
    while (process.isAlive()) {
      if (System.nanoTime() > end) {
        stop(process);
        throw new IOException("it opens no port: " + lastWords());
      }
      if (ports.stream().anyMatch(Meetings::listens)) {
        process.waitFor(120, TimeUnit.MILLISECONDS); // for its other ports, and for an end
        if (process.isAlive()) {
          return process;
        }
      }
      process.waitFor(20, TimeUnit.MILLISECONDS);
    }
    return null;
  }

  private static void stop(Process process) throws InterruptedException {
    process.destroy();
    if (!process.waitFor(20, TimeUnit.SECONDS)) {
      process.destroyForcibly().waitFor();
    }
  }

  /** A random wish at one place; afterwards everything else is as it was. */
  private void change(JsonNode read, Map<Asked, Met> before)
      throws IOException, InterruptedException {
    List<JsonNode> places =
        Meetings.each(read.get("places"))
            .filter(place -> TLS.contains(place.get("mode").asText()))
            .toList();
    boolean first = places.isEmpty(); // TLS is new to it
    if (first) {
      places =
          Meetings.each(read.get("places"))
              .filter(place -> place.get("mode").asText().equals("clear"))
              .toList();
    }
    if (places.isEmpty()) {
      return;
    }
    JsonNode place = chance.one(places);
    List<String> hosts =
        meetings.names(place).stream()
            .map(name -> name.toLowerCase(java.util.Locale.ROOT))
            .filter(MadeFiles.NAMES::contains)
            .toList();
    String host = hosts.isEmpty() ? chance.one(MadeFiles.NAMES) : hosts.get(0);
    List<Boolean> kinds =
        Meetings.each(place.get("shows"))
            .map(chain -> chain.at("/0/algorithm").asText().startsWith("EC"))
            .distinct()
            .toList();
    if (kinds.isEmpty() || chance.in(20)) {
      kinds = List.of(chance.in(50)); // one of another kind, or one of two
    }
    List<Shown> fresh = new ArrayList<>();
    List<Object> line = new ArrayList<>(List.of("configure", server.kind(), "--home", home));
    if (!first || chance.in(50)) {
      line.addAll(List.of("--site", place.get("name").asText()));
    }
    line.add("--credential");
    for (boolean ec : kinds) {
      Shown one = files.fresh(host, ec);
      fresh.add(one);
      line.addAll(List.of(one.key(), one.chain()));
    }
    line.add(files.trust("own"));
    String mode = chance.one("", "", "one-way", "mutual");
    if (!mode.isEmpty()) {
      line.addAll(List.of("--mode", mode));
    }
    if (mode.equals("mutual")) {
      line.addAll(List.of("--client-trust", files.trust("own")));
    }
    Optional<Integer> newPort = first ? Optional.of(ports.get(4)) : Optional.empty();
    newPort.ifPresent(port -> line.addAll(List.of("--port", port)));
    if (first) {
      line.addAll(List.of("--host", host));
    }
    line.add("--write");
    Map<String, String> octets = ConfiguredFiles.of(home);
    Run run = Run.of(line.toArray());
    String told = String.join(" ", line.stream().map(Object::toString).toList());
    if (run.code() != 0 && run.code() != 1) {
      tally.add("change refused " + reason(run));
      if (!octets.equals(ConfiguredFiles.of(home))) {
        differs.add("refused, and something changed: " + told + "\n" + run.out() + run.err());
      }
      return;
    }
    tally.add("changed");
    String words = run.out();
    Process running = start();
    if (running == null) {
      differs.add("it does not start after: " + told + "\n" + words + lastWords());
    } else {
      try {
        JsonNode now = read();
        int found = differs.size();
        Map<Asked, Met> after = meetings.meetAll(now);
        judge.compare(now, after);
        if (first) {
          judge.isThere(ports.get(4), fresh, mode, after);
        }
        judge.wished(read, place, fresh, mode, newPort, before, after);
        if (differs.size() > found) {
          differs.add("after: " + told + "\n" + words);
        }
      } finally {
        stop(running);
      }
    }
    String undo =
        words
            .lines()
            .map(String::strip)
            .filter(one -> one.startsWith("symbolon undo "))
            .findFirst()
            .orElse("");
    if (undo.isEmpty()) {
      if (!words.contains("all is as it is wanted")) {
        differs.add("no line that undoes it is printed:\n" + words);
      }
      return;
    }
    Run undone = Run.of((Object[]) undo.substring(9).replace("'", "").split(" "));
    if (undone.code() != 0) {
      differs.add(undo + " ended with " + undone.code() + "\n" + undone.out() + undone.err());
    } else if (!ConfiguredFiles.difference(octets, ConfiguredFiles.of(home)).stream()
        .allMatch(name -> name.contains("tls/") && !octets.containsKey(name))) { // new files stay
      differs.add(
          "put back, and not as it was: "
              + ConfiguredFiles.difference(octets, ConfiguredFiles.of(home))
              + "\n"
              + words);
    }
  }

  private static String reason(Run run) {
    String all = (run.out() + run.err()).replaceAll("\\s+", " ");
    int problem = all.indexOf(" problem ");
    String words = problem < 0 ? all : all.substring(problem + 9);
    return run.code()
        + " "
        + words.substring(0, Math.min(300, words.length())).replaceAll("/\\S+", "FILE");
  }
}
