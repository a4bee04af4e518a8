// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renewal;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
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
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Writes a job of renewing as versioned JSON, and reads it; also what earlier versions wrote. What
 * a newer version wrote is refused: it may say something that would be passed over here.
 */
public final class RenewalText {
  private static final ObjectMapper MAPPER =
      JsonMapper.builder().enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();

  private RenewalText() {}

  /** {@return a job as JSON, in the form of today} */
  public static String write(RenewalJob job) {
    try {
      return MAPPER.writeValueAsString(record(job));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e); // it holds texts and numbers alone
    }
  }

  /**
   * {@return whether a stored job is in the form of today, and need not be written again}
   *
   * @throws SymbolonException if it is no JSON
   */
  public static boolean isToday(String json) {
    return version(tree(json)) == RenewalRecord.VERSION;
  }

  /**
   * {@return a stored job, in the form of today or an earlier one}
   *
   * @throws SymbolonException if it is damaged, or a newer version wrote it
   */
  public static RenewalJob read(String json) {
    JsonNode tree = tree(json);
    int version = version(tree);
    if (version > RenewalRecord.VERSION) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "What is stored of this renewal can't be used.",
          "It has the version " + version + "; this Symbolon knows " + RenewalRecord.VERSION + ".",
          "Use the newer Symbolon that wrote it.");
    }
    try {
      return version < RenewalRecord.VERSION
          ? EarlierRenewal.read(tree)
          : job(MAPPER.treeToValue(tree, RenewalRecord.class));
    } catch (JsonProcessingException | InvalidPathException | NullPointerException e) {
      throw damaged(e);
    }
  }

  private static JsonNode tree(String json) {
    try {
      return MAPPER.readTree(json);
    } catch (JsonProcessingException e) {
      throw damaged(e);
    }
  }

  private static int version(JsonNode tree) {
    return tree.path("version").asInt(1);
  }

  static SymbolonException damaged(@Nullable Exception cause) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "What is stored of this renewal can't be used.",
        "It is damaged.",
        "Order the certificate again, into the same file.",
        cause);
  }

  private static RenewalRecord record(RenewalJob job) {
    Path path = job.path();
    return new RenewalRecord(
        RenewalRecord.VERSION,
        job.hosts().stream().map(HostName::toString).toList(),
        new RenewalRecord.Into(
            path.toString(),
            job.isFolder() ? Boolean.TRUE : null,
            word(job.format(), Format::word),
            job.alias().orElse(null),
            word(job.owner(), RenewalText::text)),
        key(job),
        job.root().orElse(null),
        job.unlock().stream().map(RenewalText::source).toList(),
        job.proofs().stream()
            .map(one -> new RenewalRecord.Proof(one.kind().word(), orNull(one.value())))
            .toList(),
        word(job.dnsKey(), Path::toString),
        job.server()
            .map(word -> new RenewalRecord.Reload(word, word(job.home(), Path::toString)))
            .orElse(null));
  }

  private static RenewalRecord.@Nullable Key key(RenewalJob job) {
    PasswordRecipe recipe = job.recipe();
    boolean usual = recipe.equals(PasswordRecipe.USUAL) && job.hasLineEnd();
    RenewalRecord.Key key =
        new RenewalRecord.Key(
            word(job.keyKind(), KeyKind::word),
            job.isUnsealed() ? Boolean.TRUE : null,
            job.keyForm() == KeyForm.PKCS8 ? null : job.keyForm().name().toLowerCase(Locale.ROOT),
            job.seal().map(RenewalText::source).orElse(null),
            job.keySeal().map(RenewalText::source).orElse(null),
            word(job.strength(), one -> one.name().toLowerCase(Locale.ROOT)),
            usual
                ? null
                : new RenewalRecord.NewPassword(
                    recipe.length(), orNull(recipe.without()), job.hasLineEnd()));
    return key.equals(new RenewalRecord.Key(null, null, null, null, null, null, null)) ? null : key;
  }

  private static String text(Owner owner) {
    return owner.user() + owner.group().map(group -> ":" + group).orElse("");
  }

  private static <T> @Nullable String word(Optional<T> value, Function<T, String> text) {
    return value.map(text).orElse(null);
  }

  private static @Nullable String orNull(String text) {
    return text.isEmpty() ? null : text;
  }

  private static RenewalRecord.Source source(PasswordSource source) {
    return new RenewalRecord.Source(source.kind().word(), orNull(source.name()));
  }

  private static PasswordSource source(RenewalRecord.Source source) {
    return new PasswordSource(
        PasswordSource.Kind.ofWord(source.from()), source.name() == null ? "" : source.name());
  }

  private static RenewalJob job(RenewalRecord stored) {
    RenewalRecord.Into into = stored.into();
    RenewalJob.Builder job =
        RenewalJob.of(stored.hosts().stream().map(HostName::parse).toList(), Path.of(into.path()));
    if (Boolean.TRUE.equals(into.folder())) {
      job.folder();
    }
    with(into.format(), word -> Format.ofWord(word).orElseThrow(() -> damaged(null)), job::format);
    with(into.alias(), Function.identity(), job::alias);
    with(into.owner(), Owner::parse, job::owner);
    if (stored.key() != null) {
      addKey(stored.key(), job);
    }
    with(stored.root(), Function.identity(), job::root);
    all(stored.unlock()).forEach(one -> job.unlock(source(one)));
    all(stored.proofs())
        .forEach(
            one ->
                job.proof(
                    ProofWay.parse(one.kind() + (one.value() == null ? "" : "=" + one.value()))));
    with(stored.dnsKey(), Path::of, job::dnsKey);
    if (stored.reload() != null) {
      job.server(stored.reload().server());
      with(stored.reload().home(), Path::of, job::home);
    }
    return job.build();
  }

  private static void addKey(RenewalRecord.Key key, RenewalJob.Builder job) {
    with(key.kind(), word -> KeyKind.ofWord(word).orElseThrow(() -> damaged(null)), job::keyKind);
    if (Boolean.TRUE.equals(key.unsealed())) {
      job.unsealed(key.form() == null ? KeyForm.PKCS8 : form(key.form()));
    }
    with(key.seal(), RenewalText::source, job::seal);
    with(key.keySeal(), RenewalText::source, job::keySeal);
    with(
        key.protection(),
        word -> Pkcs12Strength.ofWord(word).orElseThrow(() -> damaged(null)),
        job::strength);
    RenewalRecord.NewPassword made = key.newPassword();
    if (made != null) {
      String without = made.without() == null ? "" : made.without();
      job.newPassword(new PasswordRecipe(made.length(), without), made.lineEnd());
    }
  }

  static KeyForm form(String word) {
    return switch (word) {
      case "pkcs8" -> KeyForm.PKCS8;
      case "pkcs1" -> KeyForm.PKCS1;
      case "sec1" -> KeyForm.SEC1;
      default -> throw damaged(null);
    };
  }

  private static <A, B> void with(
      @Nullable A value, Function<A, B> read, Function<B, RenewalJob.Builder> put) {
    if (value != null) {
      RenewalJob.Builder unused = put.apply(read.apply(value));
    }
  }

  private static <T> List<T> all(@Nullable List<T> list) {
    return list == null ? List.of() : list;
  }
}
