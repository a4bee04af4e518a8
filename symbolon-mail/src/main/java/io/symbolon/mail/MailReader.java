// SPDX-License-Identifier: Apache-2.0
package io.symbolon.mail;

import io.symbolon.survey.Attachments;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.Locale;
import java.util.Optional;
import org.apache.james.mime4j.MimeException;
import org.apache.james.mime4j.codec.DecodeMonitor;
import org.apache.james.mime4j.codec.DecoderUtil;
import org.apache.james.mime4j.field.LenientFieldParser;
import org.apache.james.mime4j.message.DefaultBodyDescriptorBuilder;
import org.apache.james.mime4j.message.MaximalBodyDescriptor;
import org.apache.james.mime4j.stream.BodyDescriptor;
import org.apache.james.mime4j.stream.EntityState;
import org.apache.james.mime4j.stream.MimeConfig;
import org.apache.james.mime4j.stream.MimeTokenStream;

/**
 * Reads a saved mail part by part (RFC 5322, RFC 2045): its texts and its attachments, decoded, and
 * those of mails that are attached to it. Nothing is written to disk, and only one part is held at
 * a time. Thread-safe.
 */
public final class MailReader implements Attachments {
  /** Deeper than this no honest mail is forwarded. */
  private static final int DEEPEST = 20;

  private static final int LONGEST_LINE = 100_000; // of a header: many receivers fill one

  /** Creates a reader. */
  public MailReader() {}

  @Override
  public void read(byte[] mail, Sink each) throws IOException {
    MimeConfig config =
        MimeConfig.custom()
            .setMaxLineLen(LONGEST_LINE)
            .setMaxHeaderLen(LONGEST_LINE)
            .setMaxHeaderCount(1_000)
            .build();
    MimeTokenStream tokens =
        new MimeTokenStream(
            config,
            DecodeMonitor.SILENT,
            new DefaultBodyDescriptorBuilder(
                null, LenientFieldParser.getParser(), DecodeMonitor.SILENT));
    tokens.parse(new ByteArrayInputStream(mail));
    int depth = 0;
    int texts = 0;
    try {
      for (EntityState state = tokens.getState();
          state != EntityState.T_END_OF_STREAM;
          state = tokens.next()) {
        if (state == EntityState.T_START_MULTIPART || state == EntityState.T_START_MESSAGE) {
          if (++depth > DEEPEST) {
            throw new IOException("its parts lie in one another more than " + DEEPEST + " deep");
          }
        } else if (state == EntityState.T_END_MULTIPART || state == EntityState.T_END_MESSAGE) {
          depth--;
        } else if (state == EntityState.T_BODY) {
          BodyDescriptor part = tokens.getBodyDescriptor();
          Optional<String> name = name(part);
          boolean taken =
              each.take(
                  name.orElse("text-" + (texts + 1)),
                  name.isEmpty(),
                  tokens.getDecodedInputStream());
          texts += name.isEmpty() ? 1 : 0;
          if (!taken) {
            return;
          }
        }
      }
    } catch (MimeException e) {
      throw new IOException(String.valueOf(e.getMessage()), e);
    }
  }

  /** The name that the sender gave to a part; none where it is a text of the mail itself. */
  private static Optional<String> name(BodyDescriptor part) {
    Optional<String> named = Optional.empty();
    if (part instanceof MaximalBodyDescriptor all) {
      named =
          Optional.ofNullable(all.getContentDispositionFilename())
              .or(() -> Optional.ofNullable(all.getContentTypeParameters().get("name")));
    }
    if (named.isPresent() && !named.get().isBlank()) {
      return Optional.of(DecoderUtil.decodeEncodedWords(named.get(), DecodeMonitor.SILENT));
    }
    boolean text = "text".equals(String.valueOf(part.getMediaType()).toLowerCase(Locale.ROOT));
    return text ? Optional.empty() : Optional.of("attachment");
  }
}
