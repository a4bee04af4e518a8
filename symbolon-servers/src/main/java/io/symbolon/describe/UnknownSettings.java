// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.describe.Description.Line;
import io.symbolon.describe.Description.OtherForm;
import io.symbolon.describe.Description.SettingsPart;
import io.symbolon.server.place.Aspect;
import io.symbolon.server.place.NotUnderstood;
import io.symbolon.server.place.Origin;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Settings of a server's TLS part that its description does not know. What they do is not known
 * either: a listener, a credential or a list of authorities may be meant. So nothing is written
 * beside them. Those that a description calls harmless do not count.
 */
final class UnknownSettings {
  private static final Pattern TLS =
      Pattern.compile("(?:^|.*[._:-])(?:ssl|tls)(?:[._:-].*|$)|^(?:ssl|tls|smtpd?_tls).*");

  private UnknownSettings() {}

  static List<NotUnderstood> of(Description description, List<PartFiles> parts) {
    List<List<String>> known = new ArrayList<>();
    Stream.concat(
            Stream.of(description), description.otherForms().stream().map(OtherForm::description))
        .flatMap(one -> one.settings().stream())
        .forEach(part -> keys(part, known));
    description.otherForms().forEach(other -> known.addAll(other.set().keySet()));
    List<Pattern> harmless =
        description.harmless().stream()
            .map(one -> Pattern.compile(Pattern.quote(one).replace("*", "\\E.*\\Q")))
            .toList();
    List<NotUnderstood> all = new ArrayList<>();
    for (PartFiles part : parts) {
      for (PartFiles.Found one : part.all()) {
        String key = String.join(".", one.entry().key());
        String lower = key.toLowerCase(Locale.ROOT);
        List<String> names = one.entry().key();
        String last = names.get(names.size() - 1).toLowerCase(Locale.ROOT);
        boolean meant =
            TLS.matcher(lower).matches()
                && harmless.stream()
                    .noneMatch(it -> it.matcher(lower).matches() || it.matcher(last).matches())
                && known.stream().noneMatch(it -> part.isOf(it, one));
        if (meant) {
          all.add(unknown(description, one, key));
        }
      }
    }
    return all;
  }

  private static void keys(SettingsPart part, List<List<String>> known) {
    part.lines().stream().map(Line::key).forEach(known::add);
    known.addAll(part.usual().keySet());
    known.addAll(part.absent());
    known.addAll(part.instead());
    part.lists().forEach(list -> known.add(list.key()));
  }

  private static NotUnderstood unknown(Description description, PartFiles.Found one, String key) {
    return new NotUnderstood(
        Aspect.MODE,
        new Origin(one.text().source().path(), one.line()),
        VisibleText.of(key)
            + " is set, and the description of "
            + description.title()
            + " does not know what it does: who is let in, and what is shown, may be otherwise than"
            + " it is told here.",
        "Change these settings by hand; or take a description that knows it: in one of yours, put it"
            + " among 'harmless' if it changes neither who is let in nor what is shown.");
  }
}
