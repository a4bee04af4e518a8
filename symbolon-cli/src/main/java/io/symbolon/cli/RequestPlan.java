package io.symbolon.cli;

import io.symbolon.convert.FileNames;
import io.symbolon.convert.Target;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.RuleCheck;
import io.symbolon.issue.Rules;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A request as the options describe it, checked and not yet written.
 *
 * @param draft what is asked for
 * @param key the key it is for
 * @param lasts how long the certificate shall be valid
 * @param rules what the receiver wants
 * @param into where the request goes
 * @param keyInto where a new key goes
 * @param alias the alias of the key in a keystore
 * @param findings what is to be said of it
 */
record RequestPlan(
    RequestDraft draft,
    RequestKey key,
    Lifetime lasts,
    Optional<Rules> rules,
    Destination into,
    Optional<Destination> keyInto,
    String alias,
    List<Finding> findings) {
  private static final Lifetime USUAL = Lifetime.days(397);

  static RequestPlan of(Invocation invocation) {
    Optional<RequestLike> like = RequestLike.of(invocation);
    RequestDraft draft = draft(invocation, like.map(RequestLike::draft));
    Optional<Rules> rules = invocation.rules();
    Lifetime lasts = invocation.value("lasts").map(Lifetime::parse).orElse(USUAL);
    String base = base(draft);
    Destination into = into(invocation, base);
    RequestKey key = RequestKey.of(invocation, like, rules.map(Rules::keys).orElse(List.of()));
    Optional<Destination> keyInto = Optional.empty();
    if (key.isNew()) {
      keyInto = Optional.of(keyInto(invocation, base));
    } else if (invocation.has("key-into")) {
      throw Invocation.usage(
          "--key-into is for a new private key; the existing one stays where it is.",
          "Leave it out, or copy the key with symbolon convert.");
    }
    List<Finding> findings = RuleCheck.all(draft, key.publicKey(), rules, into.shown());
    String alias = invocation.value("alias").orElse(base);
    return new RequestPlan(draft, key, lasts, rules, into, keyInto, alias, findings);
  }

  static RequestDraft draft(Invocation invocation, Optional<RequestDraft> like) {
    Optional<Use> said = invocation.use();
    Use use = said.or(() -> like.map(RequestDraft::use)).orElse(Use.SERVER);
    List<HostName> hosts = invocation.hosts();
    Optional<DistinguishedName> subject = invocation.value("subject").map(DistinguishedName::parse);
    if (subject.isEmpty() && like.isEmpty() && hosts.isEmpty()) {
      throw Invocation.usage(
          "It is not said for whom the certificate shall be.",
          "Give --host NAME for a server, or --subject DN; symbolon request asks for each part when"
              + " it is given without options at a terminal.");
    }
    List<GeneralName> names = new ArrayList<>(names(invocation, hosts));
    if (names.isEmpty()) {
      like.ifPresent(old -> names.addAll(kept(old, subject)));
    }
    DistinguishedName whole =
        subject
            .or(() -> like.map(RequestDraft::subject))
            .orElseGet(
                () ->
                    DistinguishedName.parse("")
                        .with(io.symbolon.der.Oids.CN, hosts.get(0).toString()));
    return RequestDraft.of(whole, names, use);
  }

  /** The old names, but for the old common name where there is a new one. */
  private static List<GeneralName> kept(RequestDraft old, Optional<DistinguishedName> subject) {
    Optional<String> gone =
        subject.isPresent() ? old.subject().commonName() : Optional.<String>empty();
    return old.withoutForeignNames().names().stream()
        .filter(name -> gone.filter(name.value()::equalsIgnoreCase).isEmpty())
        .toList();
  }

  private static List<GeneralName> names(Invocation invocation, List<HostName> hosts) {
    List<GeneralName> names = new ArrayList<>();
    hosts.forEach(host -> names.add(GeneralName.ofHost(host.toString())));
    invocation.values("email").forEach(email -> names.add(GeneralName.ofEmail(email)));
    invocation.values("uri").forEach(uri -> names.add(GeneralName.ofUri(uri)));
    return names;
  }

  /** The first label of the host, or what the common name leaves. */
  static String base(RequestDraft draft) {
    String name =
        draft
            .subject()
            .commonName()
            .or(() -> draft.names().stream().findFirst().map(GeneralName::value))
            .orElse("request");
    String safe = FileNames.safe(typed(name));
    boolean dotted = safe.contains(".") && !safe.matches("[0-9.]+");
    String first = dotted ? safe.substring(0, safe.indexOf('.')) : safe;
    return first.isEmpty() ? "request" : first;
  }

  /** An international host in its own letters: its encoded form names no file well. */
  private static String typed(String name) {
    try {
      return name.contains("xn--") ? HostName.parse(name).typed() : name;
    } catch (SymbolonException e) {
      return name;
    }
  }

  private static Destination into(Invocation invocation, String base) {
    Destination into =
        Destination.of(invocation.value("into").orElse(base + ".csr"), invocation.value("as"));
    if (into.folder()) {
      throw Invocation.usage(into.shown() + " is a folder.", "Name the file of the request.");
    }
    if (into.target() != Target.PEM && into.target() != Target.DER) {
      throw Invocation.usage(
          "A request is written as PEM or DER, not as " + into.target().title() + ".",
          "Name the keystore of the key with --key-into.");
    }
    return into;
  }

  private static Destination keyInto(Invocation invocation, String base) {
    Destination keyInto =
        Destination.of(invocation.value("key-into").orElse(base + ".key"), Optional.empty());
    if (keyInto.folder() || !keyInto.target().holdsKeys()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The private key can't go to " + keyInto.shown() + ".",
          keyInto.folder()
              ? "It is a folder."
              : keyInto.target().title() + " has no place for private keys.",
          "Name a file such as "
              + VisibleText.of(base)
              + ".key or "
              + VisibleText.of(base)
              + ".p12.");
    }
    return keyInto;
  }

  /** The kind of key that is made where nothing else is said. */
  static final KeyKind USUAL_KEY = KeyKind.EC_P256;
}
