// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

/** What a {@link Task} can be given beside its files. */
public enum Input {
  /** A file that has still to come from an authority. */
  REPLY("the reply"),
  /** The name under which clients reach a server. */
  HOST("the host"),
  /** A subject. */
  SUBJECT("the subject"),
  /** Which entry or key is meant. */
  ALIAS("the alias"),
  /** Which kinds of content are meant. */
  PART("the part"),
  /** The format of the result. */
  FORMAT("the format"),
  /** Where the result goes. */
  INTO("the place of the result"),
  /** That an existing file is replaced. */
  REPLACE("that it is replaced"),
  /** To whom the result belongs. */
  OWNER("the owner"),
  /** Where the password comes from that opens what is read. */
  PASSWORD("the password"),
  /** A file in which a new strong password is saved for what is written. */
  NEW_PASSWORD_FILE("a new password"),
  /** Where the password comes from for what is written. */
  SEALED_WITH("the password for the result"),
  /** That a private key lies open. */
  UNSEALED("that keys lie open"),
  /** The password for the keys in what is written. */
  KEY_PASSWORD("the password for the keys"),
  /** That the root is written as well. */
  ROOT("the root"),
  /** The file that the new one shall be like. */
  LIKE("the file to follow"),
  /** What a certificate is for. */
  USE("the use"),
  /** The kind of a new key. */
  KEY_TYPE("the kind of key"),
  /** That a doubt is known and accepted. */
  SIGN_ALL_THE_SAME("a yes"),
  /** That a chain need not be complete. */
  INCOMPLETE_CHAIN("that the chain may be incomplete"),
  /** That signatures nobody could check are accepted. */
  UNCHECKED_CHAIN("that the chain may be unchecked"),
  /** The authority that signs. */
  AUTHORITY("the authority"),
  /** The authority above a new one. */
  ABOVE("the authority above"),
  /** Whom to trust. */
  TRUST("the trust"),
  /** A new name for an entry. */
  RENAME("the new alias"),
  /** That certificates are trusted themselves, and not their authorities. */
  THEMSELVES("that all certificates are meant"),
  /** That a truststore is added to. */
  ADD("that it is added to"),
  /** The server's files. */
  SERVER("the server's files"),
  /** Whom the server trusts. */
  SERVER_TRUST("the server's trust"),
  /** Whether a server requires its clients' certificates. */
  CLIENTS("the clients' certificates"),
  /** The client's files. */
  CLIENT("the client's files"),
  /** Whom the client trusts. */
  CLIENT_TRUST("the client's trust"),
  /** By whom a server knows its clients. */
  CLIENT_AUTHORITIES("the authorities of the clients"),
  /** That each of many pairs has a handshake. */
  EVERY_PAIR("every pair"),
  /** How long to wait. */
  WAIT("the limit"),
  /** What speaks in clear text before TLS. */
  START_WITH("the beginning in clear text"),
  /** Which of several variants of the rules. */
  VARIANT("the variant"),
  /** The folder of an account at an authority. */
  ACCOUNT("the account"),
  /** That everything is shown. */
  DETAILS("the details"),
  /** How what is written is protected. */
  PROTECTION("the protection"),
  /** The form of a private key that lies open. */
  KEY_FORM("the form of the key"),
  /** Where the records of an authority are. */
  RECORDS("the place of the records"),
  /** Of how many characters a new password is made. */
  NEW_LENGTH("the length of the new password"),
  /** Where a private key goes that does not lie with its certificate. */
  KEY_INTO("the place of the key"),
  /** A key that is there already. */
  KEY("the key"),
  /** That the key of an older certificate is kept. */
  SAME_KEY("that the key is kept"),
  /** The home of a server. */
  HOME("the home of the server"),
  /** The port in clear text that sends clients to TLS. */
  REDIRECT_FROM("the port that redirects"),
  /** How long browsers insist on TLS. */
  STRICT_TRANSPORT("the time of strict transport"),
  /** Which of several places is meant. */
  SITE("the site"),
  /** Which places may change otherwise than it is wished for. */
  MAY_CHANGE("the sites that may change"),
  /** The form of a server's files. */
  FORM("the form of the files"),
  /** Where a server's new files go. */
  PLACE("the folder for the files"),
  /** Who shows a certificate. */
  MODE("the mode"),
  /** The cipher suites. */
  CIPHERS("the cipher suites"),
  /** Where a program listens. */
  LISTEN("the address to listen on"),
  /** A port. */
  PORT("the port"),
  /** What a server or client shows. */
  CREDENTIAL("the credential"),
  /** A role of clients and its file. */
  ROLE("the role of clients"),
  /** The address of an authority that is new to an account. */
  FROM("the address of the authority"),
  /** That the terms of an authority are agreed to. */
  AGREE("a yes to the terms"),
  /** That everything is listed and nothing changes. */
  LIST("the list"),
  /** Which of the steps that are kept. */
  AT("the moment"),
  /** Where the password comes from for the key of an account. */
  ACCOUNT_PASSWORD("the password for the account"),
  /** The name of the key that binds an account to another one. */
  BIND_ID("the name of the key that binds the account"),
  /** The server that takes new files. */
  RELOAD("the server that takes the files"),
  /** How control of a host is proven. */
  PROOF("the proof"),
  /** That something is not tried any more. */
  FORGET("the name to forget"),
  /** A secret that binds an account to another one. */
  BIND_KEY("the key that binds the account"),
  /** A key with which name servers are told records. */
  DNS_KEY("the key for the name server");

  private final String title;

  Input(String title) {
    this.title = title;
  }

  /** {@return what people call it} */
  public String title() {
    return title;
  }

  /** {@return a mark for a sentence, in whose place the name of this input is shown} */
  public String mention() {
    return mention("");
  }

  /**
   * {@return a mark for a sentence, in whose place this input is shown with a value}
   *
   * @param value what it is to be given, such as {@code file=PATH}
   */
  public String mention(String value) {
    return Mention.of(this, value);
  }
}
