// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

/** Breaks a line at a space where a terminal is narrower, with the rest further in. */
final class Folding {
  private static final int FURTHER = 4;
  private static final int NARROWEST = 30;

  private Folding() {}

  /** The text in as many lines as it needs; colours in it have no width. */
  static String of(String text, int width) {
    if (text.length() <= width || width < NARROWEST) {
      return text;
    }
    String indent = " ".repeat(Math.min(width / 3, indent(text) + FURTHER));
    StringBuilder out = new StringBuilder();
    int column = 0;
    int space = -1; // the last place to break at in the current line
    int columnOfSpace = 0;
    boolean started = false; // whether the line has anything but its indentation
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (c == '\u001B') {
        int end = text.indexOf('m', i);
        out.append(text, i, end < 0 ? text.length() : end + 1);
        i = end < 0 ? text.length() : end;
        continue;
      }
      if (c == ' ' && started) {
        space = out.length();
        columnOfSpace = column;
      }
      started |= c != ' ';
      out.append(c);
      column += Character.isLowSurrogate(c) ? 0 : 1;
      if (column > width && space >= 0) {
        int end = space; // no spaces at the end of a line
        while (out.charAt(end - 1) == ' ') {
          end--;
        }
        out.replace(end, space + 1, "\n" + indent);
        column = column - columnOfSpace - 1 + indent.length();
        space = -1;
      }
    }
    return out.toString();
  }

  private static int indent(String text) {
    int spaces = 0;
    while (spaces < text.length() && text.charAt(spaces) == ' ') {
      spaces++;
    }
    return spaces;
  }
}
