// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.request;

import io.symbolon.format.Format;
import io.symbolon.issue.Lifetime;
import io.symbolon.key.KeyKind;
import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.RulesSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.ResultOptions;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Asks an authority for a certificate: with a new key, or one that is there.
 *
 * @param content for whom and what for
 * @param like the file with what is asked for again
 * @param key which key it is for
 * @param lasts how long the certificate shall be valid
 * @param rules what the receiver wants
 * @param into where the request goes
 * @param format the format of the request, where it is said
 * @param keyInto where a new key goes
 * @param alias the alias of the key, or of what is meant
 * @param unlock the sources of passwords to try on files
 * @param result how the key is written
 */
public record RequestJob(
    RequestContent content,
    Optional<Path> like,
    KeyChoice key,
    Optional<Lifetime> lasts,
    Optional<RulesSource> rules,
    Optional<Destination> into,
    Optional<Format> format,
    Optional<Destination> keyInto,
    Optional<String> alias,
    List<PasswordSource> unlock,
    ResultOptions result) {
  /**
   * Which key a request is made with.
   *
   * @param file the file of an existing one
   * @param same whether it is the key of what is asked for again
   * @param kind the kind of a new one
   */
  public record KeyChoice(Optional<Path> file, boolean same, Optional<KeyKind> kind) {
    /** {@return whether there is such a key} */
    public boolean isExisting() {
      return same || file.isPresent();
    }
  }

  /**
   * {@return a job that is still to be said wholly}
   *
   * @param content for whom and what for
   */
  public static Builder of(RequestContent content) {
    return new Builder(content);
  }

  /**
   * Makes the key and judges what would be asked for. Nothing is written.
   *
   * @param run what it is done in
   * @return the plan, with the rules that it breaks
   */
  public RequestPlan plan(TaskRun run) {
    return RequestPlan.of(run, this);
  }

  /**
   * Writes the key and the request: both, or neither.
   *
   * @param run what it is done in
   * @param plan what is written
   * @return what was written
   * @throws IllegalArgumentException if the plan is refused
   */
  public RequestResult write(TaskRun run, RequestPlan plan) {
    if (plan.isRefused()) {
      throw new IllegalArgumentException("a rule is broken: " + plan.findings());
    }
    return RequestResult.write(run, this, plan);
  }

  /** Says a job, part by part. */
  public static final class Builder {
    private final RequestContent content;
    private @Nullable Path like;
    private @Nullable Path key;
    private boolean same;
    private @Nullable KeyKind kind;
    private @Nullable Lifetime lasts;
    private @Nullable RulesSource rules;
    private @Nullable Destination into;
    private @Nullable Format format;
    private @Nullable Destination keyInto;
    private @Nullable String alias;
    private final List<PasswordSource> unlock = new ArrayList<>();
    private ResultOptions result = ResultOptions.USUAL;

    private Builder(RequestContent content) {
      this.content = content;
    }

    /** Asks again for what a certificate, keystore or request has. */
    public Builder like(Path file) {
      like = file;
      return this;
    }

    /** With the private key in a file. */
    public Builder key(Path file) {
      key = file;
      return this;
    }

    /** With the private key of what is asked for again. */
    public Builder sameKey() {
      same = true;
      return this;
    }

    /** With a new key of this kind. */
    public Builder keyKind(KeyKind said) {
      kind = said;
      return this;
    }

    /** How long the certificate shall be valid. */
    public Builder lasts(Lifetime time) {
      lasts = time;
      return this;
    }

    /** What the receiver wants. */
    public Builder rules(RulesSource source) {
      rules = source;
      return this;
    }

    /** Where the request goes; otherwise into a file that is named after the host. */
    public Builder into(Destination destination) {
      into = destination;
      return this;
    }

    /** The format of a request whose file is not said. */
    public Builder format(Format said) {
      format = said;
      return this;
    }

    /** Where a new key goes: a file, or a keystore in which it waits for the reply. */
    public Builder keyInto(Destination destination) {
      keyInto = destination;
      return this;
    }

    /** The alias of the key in a keystore; of several keys, the one that is meant. */
    public Builder alias(String said) {
      alias = said;
      return this;
    }

    /** Passwords to try on whatever is sealed. */
    public Builder unlock(Collection<PasswordSource> sources) {
      unlock.addAll(sources);
      return this;
    }

    /** How a new key is written. */
    public Builder result(ResultOptions said) {
      result = said;
      return this;
    }

    /**
     * {@return the job}
     *
     * @throws WrongJob if it is for nobody, or for a key that is new and there at once
     */
    public RequestJob build() {
      if (like == null) {
        if (same) {
          throw new WrongJob(
              Input.SAME_KEY.mention() + " is given without a file to take the key from.",
              "Name the file with " + Input.LIKE.mention() + ".");
        }
        content.check();
      }
      boolean existing = same || key != null;
      if (existing && kind != null) {
        throw new WrongJob(
            Input.KEY_TYPE.mention() + " is for a new key, and an existing one is named.",
            "Leave one of them out.");
      }
      if (existing && keyInto != null) {
        throw new WrongJob(
            Input.KEY_INTO.mention()
                + " is for a new private key; the existing one stays where it is.",
            "Leave it out, or copy the key with symbolon convert.");
      }
      return new RequestJob(
          content,
          Optional.ofNullable(like),
          new KeyChoice(Optional.ofNullable(key), same, Optional.ofNullable(kind)),
          Optional.ofNullable(lasts),
          Optional.ofNullable(rules),
          Optional.ofNullable(into),
          Optional.ofNullable(format),
          Optional.ofNullable(keyInto),
          Optional.ofNullable(alias),
          List.copyOf(unlock),
          result);
    }
  }
}
