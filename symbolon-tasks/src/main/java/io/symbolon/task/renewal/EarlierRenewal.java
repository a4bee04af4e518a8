// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renewal;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.file.Owner;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.PasswordRecipe;
import io.symbolon.task.PasswordSource;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Version 1 of a stored renewal: the words of a command line. It is read once more, and stored in
 * the form of today by the next run.
 */
final class EarlierRenewal {
  /** Wording that have no value behind them. */
  private static final List<String> FLAGS = List.of("unsealed", "no-line-end");

  private final Map<String, List<String>> options = new LinkedHashMap<>();

  private EarlierRenewal(JsonNode list) {
    for (int i = 0; i < list.size(); i++) {
      String name = list.get(i).asText().replaceFirst("^-+", "");
      boolean flag = FLAGS.contains(name);
      if (!flag && i + 1 == list.size()) {
        throw RenewalText.damaged(null);
      }
      options
          .computeIfAbsent(name, same -> new ArrayList<>())
          .add(flag ? "" : list.get(++i).asText());
    }
  }

  static RenewalJob read(JsonNode tree) {
    JsonNode list = tree.path("options");
    if (!list.isArray()) {
      throw RenewalText.damaged(null);
    }
    return new EarlierRenewal(list).job();
  }

  private RenewalJob job() {
    String into = first("into").orElseThrow(() -> RenewalText.damaged(null));
    RenewalJob.Builder job =
        RenewalJob.of(all("host").stream().map(HostName::parse).toList(), Path.of(into));
    if (into.endsWith("/")) {
      job.folder();
    }
    first("as").ifPresent(one -> job.format(known(Format.ofWord(one))));
    first("alias").ifPresent(job::alias);
    first("owner").ifPresent(one -> job.owner(Owner.parse(one)));
    first("key-type").ifPresent(one -> job.keyKind(known(KeyKind.ofWord(one))));
    if (options.containsKey("unsealed")) {
      job.unsealed(first("key-as").map(RenewalText::form).orElse(KeyForm.PKCS8));
    }
    first("seal").ifPresent(one -> job.seal(source(one)));
    first("seal-key").ifPresent(one -> job.keySeal(source(one)));
    first("protection").ifPresent(one -> job.strength(known(Pkcs12Strength.ofWord(one))));
    job.newPassword(recipe(), !options.containsKey("no-line-end"));
    all("unlock").forEach(one -> job.unlock(source(one)));
    first("root").ifPresent(job::root);
    all("proof").forEach(one -> job.proof(ProofWay.parse(one)));
    first("dns-key").ifPresent(one -> job.dnsKey(Path.of(one)));
    first("reload").ifPresent(job::server);
    first("home").ifPresent(one -> job.home(Path.of(one)));
    return job.build();
  }

  private PasswordRecipe recipe() {
    try {
      return new PasswordRecipe(
          first("new-length").map(Integer::parseInt).orElse(PasswordRecipe.USUAL.length()),
          first("new-without").orElse(""));
    } catch (NumberFormatException e) {
      throw RenewalText.damaged(e);
    }
  }

  private static PasswordSource source(String text) {
    int equals = text.indexOf('=');
    String kind = equals < 0 ? text : text.substring(0, equals);
    return new PasswordSource(
        PasswordSource.Kind.ofWord(kind), equals < 0 ? "" : text.substring(equals + 1));
  }

  private static <T> T known(Optional<T> value) {
    return value.orElseThrow(() -> RenewalText.damaged(null));
  }

  private Optional<String> first(String name) {
    return all(name).stream().findFirst();
  }

  private List<String> all(String name) {
    return options.getOrDefault(name, List.of());
  }
}
