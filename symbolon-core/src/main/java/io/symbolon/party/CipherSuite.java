// SPDX-License-Identifier: Apache-2.0
package io.symbolon.party;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * A cipher suite a server can be asked for.
 *
 * @param code the number that stands for it on the wire
 * @param name its standard name, such as {@code TLS_AES_256_GCM_SHA384}
 */
public record CipherSuite(int code, String name) {
  private static final class Table {
    static final List<CipherSuite> ALL = read();

    /** The registry of RFC 8446, 8447 and those before, without suites that need other secrets. */
    private static List<CipherSuite> read() {
      try (InputStream in = CipherSuite.class.getResourceAsStream("cipher-suites.txt")) {
        if (in == null) {
          throw new IllegalStateException("the table of cipher suites is missing");
        }
        List<CipherSuite> all = new ArrayList<>();
        BufferedReader lines =
            new BufferedReader(new InputStreamReader(in, StandardCharsets.US_ASCII));
        for (String line = lines.readLine(); line != null; line = lines.readLine()) {
          if (!line.startsWith("#")) {
            all.add(new CipherSuite(Integer.parseInt(line.substring(0, 4), 16), line.substring(5)));
          }
        }
        return List.copyOf(all);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
  }

  /**
   * {@return all that can be asked for in a version, the better ones first, as a client would want
   * them}
   */
  public static List<CipherSuite> of(ProtocolVersion version) {
    boolean latest = version == ProtocolVersion.TLS_1_3;
    return Table.ALL.stream()
        .filter(suite -> suite.isOfTls13() == latest)
        .sorted(Comparator.comparing(CipherSuite::faults))
        .toList();
  }

  private int faults() {
    boolean sealing = name.contains("_GCM_") || name.contains("_CCM") || name.contains("_POLY1305");
    return (isBroken() ? 8 : 0)
        + (isOld() ? 4 : 0)
        + (hasForwardSecrecy() ? 0 : 2)
        + (sealing ? 0 : 1);
  }

  private boolean isOfTls13() {
    return code >> 8 == 0x13;
  }

  /**
   * {@return whether it protects nothing today: no encryption, no server's identity, or a broken
   * cipher}
   */
  public boolean isBroken() {
    return name.contains("_NULL_")
        || name.contains("_EXPORT_")
        || name.contains("_anon_")
        || name.contains("_RC4_")
        || name.contains("_RC2_")
        || name.contains("_DES_CBC_")
        || name.endsWith("_MD5");
  }

  /** {@return whether its cipher works on blocks of 64 bits, which leak in long connections} */
  public boolean isOld() {
    return name.contains("_3DES_") || name.contains("_IDEA_");
  }

  /**
   * {@return whether what is recorded today stays secret when the server's key is stolen tomorrow}
   */
  public boolean hasForwardSecrecy() {
    return isOfTls13() || name.contains("DHE_") || name.contains("_anon_");
  }
}
