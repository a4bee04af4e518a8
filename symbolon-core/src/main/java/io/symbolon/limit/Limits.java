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

  private Limits() {}
}
