// SPDX-License-Identifier: Apache-2.0
package io.symbolon.limit;

/**
 * How far reading goes before it is refused: one table for every reader. Everything read is hostile
 * until parsed, so each of these is met by a clear failure and never by a hang or an exhausted
 * heap.
 */
public final class Limits {
  /** The largest file that is read whole: 48 MiB; ten thousand certificates take a third of it. */
  public static final int FILE_BYTES = 48 << 20;

  /** How much of a larger file is looked at to tell whether it could be one of ours: 64 KiB. */
  public static final int HEAD_BYTES = 64 << 10;

  /** How deep ASN.1 values may nest; real files stay below 20. */
  public static final int DER_DEPTH = 48;

  /** How many ASN.1 values a BER file may hold when it is rewritten as DER. */
  public static final int BER_VALUES = 2_000_000;

  /** The most password-derivation rounds that are carried out; today's advice is 600,000. */
  public static final int ITERATIONS = 5_000_000;

  /**
   * The most password-derivation rounds that one file may ask for in all: two hundred keys with a
   * million rounds each. A password that has to be tried on all of them takes a few minutes.
   */
  public static final int ITERATIONS_PER_FILE = 200_000_000;

  /**
   * The most that one protection may ask for: its rounds, times the blocks that each computes. A
   * key that is longer than the digest takes several blocks.
   */
  public static final long DERIVATION_BLOCKS_EACH = 4L * ITERATIONS;

  /** The most derivation rounds, times their blocks, that one command carries out. */
  public static final long DERIVATION_BLOCKS = 400_000_000;

  /** The longest key that a password derivation is asked for, in octets; no cipher needs more. */
  public static final int DERIVED_KEY_OCTETS = 128;

  /** The longest public exponent of RSA that is computed with, in bits; real ones have 17. */
  public static final int RSA_EXPONENT_BITS = 64;

  /** The most entries of a keystore. */
  public static final int STORE_ENTRIES = 100_000;

  /** The most holdings that are kept from one file. */
  public static final int HOLDINGS_PER_FILE = 200_000;

  /** The most files of one survey. */
  public static final int FILES = 200_000;

  /** How many folders deep a survey goes. */
  public static final int FOLDER_DEPTH = 32;

  /** The longest chain that is followed. */
  public static final int CHAIN_LENGTH = 32;

  /** How many links are tried for one chain: many issuers of one name make many paths. */
  public static final int CHAIN_TRIES = 2_000;

  /** The longest password, in characters. */
  public static final int PASSWORD_CHARS = 4_096;

  /** The most files of a folder with passwords. */
  public static final int PASSWORD_FILES = 1_000;

  /** The largest RSA modulus that is computed with, in bits; larger ones make every check slow. */
  public static final int RSA_BITS = 16_384;

  /**
   * The most subject alternative names that are asked for or signed: every handshake sends them.
   */
  public static final int ALTERNATIVE_NAMES = 500;

  /** The largest list of clients that is read, in octets. */
  public static final int CLIENT_LIST_BYTES = 8 << 20;

  /** The most clients of one list. */
  public static final int CLIENT_LIST_LINES = 50_000;

  /** The largest file of rules that is read, in octets. */
  public static final int RULES_BYTES = 256 << 10;

  /** How deep the sections of rules may nest. */
  public static final int RULES_DEPTH = 20;

  /**
   * The largest journal of an interrupted step, in octets; a file for each of 100,000 credentials.
   */
  public static final int JOURNAL_BYTES = 64 << 20;

  /** How many symbolic links are followed to a file: as many as the system itself follows. */
  public static final int LINKS = 40;

  /** Factors of an RSA modulus below this are looked for. */
  public static final int SMALL_PRIMES = 10_000;

  /** How far from the middle the factors of an RSA modulus are looked for, in steps. */
  public static final int FERMAT_STEPS = 1_000;

  /** The most addresses of one host that are tried. */
  public static final int ADDRESSES = 16;

  /** How many files of an archive are read. */
  public static final int ARCHIVE_FILES = 2_000;

  /** How many octets the files of an archive may have together. */
  public static final long ARCHIVE_BYTES = 64L << 20;

  /** How many archives may lie one in the other. */
  public static final int ARCHIVE_DEPTH = 3;

  /** How many revoked certificates of two lists are compared one by one. */
  public static final int REVOCATIONS_COMPARED = 10_000;

  /** The fewest characters of a password that is made. */
  public static final int MADE_PASSWORD_LEAST = 8;

  /** The most characters of a password that is made. */
  public static final int MADE_PASSWORD_MOST = 128;

  /** The longest common name (RFC 5280, appendix A.1), in characters. */
  public static final int COMMON_NAME = 64;

  /** How many connections to one server are open at a time: it must not be flooded. */
  public static final int CONNECTIONS = 4;

  /** The longest record of TLS (RFC 8446, 5.2), in octets. */
  public static final int TLS_RECORD = (1 << 14) + 256;

  /** The longest answer to the first message of a handshake that is read, in octets. */
  public static final int SERVER_HELLO = 4_096;

  /** How many lines of a greeting are read before TLS. */
  public static final int GREETING_LINES = 100;

  /** The longest line of a greeting, in octets. */
  public static final int GREETING_LINE = 4_096;

  /** How much of one text from a file is shown, in characters. */
  public static final int SHOWN_TEXT = 400;

  /** How many flaws of a PEM text are told; a text with more of them is none of ours. */
  public static final int PEM_FLAWS = 1_000;

  /** The longest line of a PEM text that may tell a name, in octets. */
  public static final int PEM_NAME_LINE = 400;

  /** How much of a line of a log is looked at, in characters. */
  public static final int LOG_LINE = 4_000;

  /** How deep the causes of an exception are followed. */
  public static final int CAUSES = 30;

  /** How much of a log is read, in octets: its end. */
  public static final int LOG_BYTES = 64 << 20;

  /**
   * How many pairs of a key and a certificate are tried for one survey; each takes a millisecond or
   * so.
   */
  public static final int FIT_TRIALS = 5_000;

  /** How many entries of a store that are not understood are told one by one. */
  public static final int UNKNOWN_ENTRIES_TOLD = 100;

  /**
   * The longest text of a moment in a label, in characters: zeros in front tell equal moments
   * apart.
   */
  public static final int LABEL_TIME = 600;

  /** The most findings of one file. */
  public static final int FINDINGS_PER_FILE = 2_000;

  /** How many statements of one extension are shown. */
  public static final int EXTENSION_STATEMENTS = 200;

  /** The most certificates that one status response (RFC 6960) speaks of. */
  public static final int STATUS_RESPONSES = 1_000;

  /** The most parts of a subject that is asked for. */
  public static final int SUBJECT_PARTS = 50;

  /** How often a pattern of the rules may look at a character of a text. */
  public static final int PATTERN_LOOKS = 200_000;

  /** The longest pattern of the rules, in characters. */
  public static final int PATTERN = 500;

  /** How often a pattern may repeat something, in all. */
  public static final long PATTERN_REPETITIONS = 100_000;

  /** The largest signed head of a register, in octets. */
  public static final int REGISTER_HEAD_BYTES = 64 << 10;

  /** The longest object identifier, in octets; real ones stay below 20. */
  public static final int OID_BYTES = 128;

  /** How deep blocks of a settings file may nest; real files stay below 8. */
  public static final int SETTING_DEPTH = 64;

  /** The largest settings file that is read: 8 MiB. */
  public static final int SETTINGS_BYTES = 8 << 20;

  /** The most settings files that one server's settings may consist of. */
  public static final int SETTINGS_FILES = 2_000;

  /** How much of what a server's own command prints is kept: 256 KiB. */
  public static final int COMMAND_OUTPUT = 256 << 10;

  private Limits() {}
}
