// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.remedy.Input;

/**
 * How an input is given on the command line.
 *
 * @param value what stands for its value where that is not known; empty where it has none
 * @param prefix what stands before a value that is known
 */
public record OptionNames(String option, String value, String prefix) {
  private OptionNames(String option, String value) {
    this(option, value, "");
  }

  public static OptionNames of(Input input) {
    return switch (input) {
      case HOST -> new OptionNames("--host", "NAME");
      case SUBJECT -> new OptionNames("--subject", "NAME");
      case ALIAS -> new OptionNames("--alias", "NAME");
      case PART -> new OptionNames("--part", "PART");
      case FORMAT -> new OptionNames("--as", "FORMAT");
      case INTO -> new OptionNames("--into", "FILE");
      case REPLACE -> new OptionNames("--replace", "");
      case OWNER -> new OptionNames("--owner", "USER");
      case PASSWORD -> new OptionNames("--unlock", "ask");
      case NEW_PASSWORD_FILE -> new OptionNames("--seal", "new=PATH", "new=");
      case SEALED_WITH -> new OptionNames("--seal", "SOURCE");
      case UNSEALED -> new OptionNames("--unsealed", "");
      case KEY_PASSWORD -> new OptionNames("--seal-key", "SOURCE");
      case ROOT -> new OptionNames("--with-root", "");
      case LIKE -> new OptionNames("--like", "FILE");
      case USE -> new OptionNames("--for", "USE");
      case KEY_TYPE -> new OptionNames("--key-type", "TYPE");
      case SIGN_ALL_THE_SAME -> new OptionNames("--yes", "");
      case INCOMPLETE_CHAIN -> new OptionNames("--incomplete-chain", "");
      case UNCHECKED_CHAIN -> new OptionNames("--unchecked-chain", "");
      case AUTHORITY -> new OptionNames("--by", "FOLDER");
      case ABOVE -> new OptionNames("--under", "FOLDER");
      case TRUST -> new OptionNames("--trust", "FILE");
      case RENAME -> new OptionNames("--rename", "OLD=NEW");
      case THEMSELVES -> new OptionNames("--all", "");
      case ADD -> new OptionNames("--add", "");
      case SERVER -> new OptionNames("--server", "FILE...");
      case SERVER_TRUST -> new OptionNames("--server-trust", "FILE...");
      case CLIENTS -> new OptionNames("--clients", "WAY");
      case CLIENT -> new OptionNames("--client", "FILE...");
      case CLIENT_TRUST -> new OptionNames("--client-trust", "FILE...");
      case CLIENT_AUTHORITIES -> new OptionNames("--client-trust", "FILE...");
      case EVERY_PAIR -> new OptionNames("--every-pair", "");
      case WAIT -> new OptionNames("--limit", "SECONDS");
      case START_WITH -> new OptionNames("--start-with", "SERVICE");
      case REPLY -> new OptionNames("", "REPLY");
      case VARIANT -> new OptionNames("--variant", "NAME");
      case ACCOUNT -> new OptionNames("--account", "FOLDER");
      case DETAILS -> new OptionNames("--details", "");
      case PROTECTION -> new OptionNames("--protection", "STRENGTH");
      case KEY_FORM -> new OptionNames("--key-as", "FORM");
      case RECORDS -> new OptionNames("--records", "URL");
      case NEW_LENGTH -> new OptionNames("--new-length", "N");
      case KEY_INTO -> new OptionNames("--key-into", "FILE");
      case KEY -> new OptionNames("--key", "FILE");
      case SAME_KEY -> new OptionNames("--same-key", "");
      case HOME -> new OptionNames("--home", "PATH");
      case REDIRECT_FROM -> new OptionNames("--redirect-from", "PORT");
      case STRICT_TRANSPORT -> new OptionNames("--strict-transport", "TIME");
      case SITE -> new OptionNames("--site", "NAME");
      case MAY_CHANGE -> new OptionNames("--may-change", "NAME");
      case FORM -> new OptionNames("--form", "FORM");
      case PLACE -> new OptionNames("--place", "FOLDER");
      case MODE -> new OptionNames("--mode", "MODE");
      case CIPHERS -> new OptionNames("--ciphers", "WORDS");
      case LISTEN -> new OptionNames("--listen", "ADDRESS:PORT");
      case PORT -> new OptionNames("--port", "PORT");
      case CREDENTIAL -> new OptionNames("--credential", "FILE...");
      case ROLE -> new OptionNames("--role", "ROLE=FILE");
      case FROM -> new OptionNames("--from", "URL");
      case AGREE -> new OptionNames("--agree", "");
      case LIST -> new OptionNames("--list", "");
      case AT -> new OptionNames("--at", "MOMENT");
      case ACCOUNT_PASSWORD -> new OptionNames("--seal-account", "SOURCE");
      case BIND_ID -> new OptionNames("--bind-id", "NAME");
      case RELOAD -> new OptionNames("--reload", "SERVER");
      case PROOF -> new OptionNames("--proof", "KIND");
      case FORGET -> new OptionNames("--forget", "NAME");
      case BIND_KEY -> new OptionNames("--bind-key", "SOURCE");
      case DNS_KEY -> new OptionNames("--dns-key", "FILE");
    };
  }

  /** How a sentence names an input. */
  public static String mention(Input input, String value) {
    String option = of(input).option();
    return value.isEmpty() ? option : option + " " + value;
  }

  /** Whether several values stand behind one option, instead of each behind its own. */
  public boolean takesSeveral() {
    return value.endsWith("...");
  }
}
