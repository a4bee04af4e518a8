// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.nio.file.attribute.BasicFileAttributes;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Which file or folder it is: its device and its number there. Both are empty where the file system
 * has none.
 *
 * @param device the number of the device; it may be another one after the machine was restarted
 * @param number the number of the file on it
 */
record FileId(String device, String number) {
  private static final Pattern KEY = Pattern.compile("\\(dev=([0-9a-f]+),ino=(\\d+)\\)");

  static FileId of(BasicFileAttributes attributes) {
    Matcher matcher = KEY.matcher(String.valueOf(attributes.fileKey()));
    return matcher.matches() ? new FileId(matcher.group(1), matcher.group(2)) : new FileId("", "");
  }

  /**
   * Whether it is the same file.
   *
   * @param sameBoot whether the machine has not been restarted between the two looks
   */
  boolean isSame(FileId other, boolean sameBoot) {
    return number.equals(other.number) && (!sameBoot || device.equals(other.device));
  }

  /** One word, for what is on record. */
  String toWord() {
    return device + ":" + number;
  }

  static FileId parse(String word) {
    String[] parts = word.split(":", -1);
    return new FileId(parts[0], parts[1]);
  }
}
