package io.symbolon;

/**
 * Text from a file, made safe to show: control characters, direction changes, zero-width characters
 * and lone surrogates appear as {@code \}{@code u{202E}} instead of acting on the terminal.
 */
public final class VisibleText {
  private static final int LONGEST = 400; // characters shown of one text

  private VisibleText() {}

  /** The text with everything that would not show, or would change what shows, made visible. */
  public static String of(String text) {
    if (isPlain(text)) {
      return text;
    }
    StringBuilder shown = new StringBuilder(text.length() + 16);
    int at = 0;
    while (at < text.length()) {
      if (shown.length() > LONGEST) {
        return shown.append("… (").append(text.length()).append(" characters)").toString();
      }
      int point = text.codePointAt(at);
      if (isHarmless(point)) {
        shown.appendCodePoint(point);
      } else {
        shown.append(String.format("\\u{%X}", point));
      }
      at += Character.charCount(point);
    }
    return shown.toString();
  }

  private static boolean isPlain(String text) {
    if (text.length() > LONGEST) {
      return false;
    }
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (c < 0x20 || c > 0x7E) {
        return false;
      }
    }
    return true;
  }

  private static boolean isHarmless(int point) {
    return switch (Character.getType(point)) {
      case Character.CONTROL,
          Character.FORMAT,
          Character.SURROGATE,
          Character.UNASSIGNED,
          Character.LINE_SEPARATOR,
          Character.PARAGRAPH_SEPARATOR,
          Character.PRIVATE_USE ->
          false;
      default -> true;
    };
  }
}
