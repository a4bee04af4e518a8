// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.lossless.Directive;
import io.symbolon.lossless.HttpdText;
import io.symbolon.server.TrialStart;
import io.symbolon.server.machine.ServerCommand;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * A copy of httpd with the modules and settings of TLS alone: its own check does not open
 * certificates and keys. Nothing else of the server runs a second time.
 */
final class HttpdTrial implements TrialStart {
  private static final String MAIN = "httpd.conf";
  private static final Set<String> NOT_SHARED =
      Set.of("sslsessioncache", "sslstaplingcache", "sslmutex");

  private final String program;
  private final HttpdTree tree;

  HttpdTrial(String program, HttpdTree tree) {
    this.program = program;
    this.tree = tree;
  }

  @Override
  public Map<String, byte[]> files(Path folder, int port) {
    StringBuilder text = new StringBuilder();
    line(text, "ServerRoot", tree.root().toString());
    line(text, "DefaultRuntimeDir", folder.toString());
    line(text, "PidFile", folder.resolve("pid").toString());
    line(text, "ErrorLog", log(folder).toString());
    line(text, "ServerName", "127.0.0.1");
    line(text, "Listen", "127.0.0.1:" + port);
    tree.variables().all().forEach((name, value) -> line(text, "Define", name, value));
    for (Directive one : tree.directives()) {
      if (one.is("LoadModule") && isNeeded(one.value(0))) {
        copied(text, one);
      } else if (one.is("User") || one.is("Group") || isTls(one)) {
        copied(text, one);
      }
    }
    for (Site site : Site.in(tree)) {
      if (site.isTls()) {
        text.append("<VirtualHost 127.0.0.1:").append(port).append(">\n");
        line(text, "ServerName", site.serverName().orElse("127.0.0.1"));
        site.inside().stream().filter(HttpdTrial::isTls).forEach(one -> copied(text, one));
        text.append("</VirtualHost>\n");
      }
    }
    return Map.of(MAIN, text.toString().getBytes(StandardCharsets.UTF_8));
  }

  private static boolean isNeeded(String module) {
    return module.startsWith("mpm_")
        || module.startsWith("socache_")
        || module.startsWith("slotmem_")
        || List.of("ssl_module", "unixd_module", "authz_core_module", "log_config_module")
            .contains(module);
  }

  private static boolean isTls(Directive one) {
    String name = one.name().toLowerCase(Locale.ROOT);
    return name.startsWith("ssl") && one.block().isEmpty() && !NOT_SHARED.contains(name);
  }

  private static void copied(StringBuilder text, Directive one) {
    text.append(one.source().text(), one.from(), one.to()).append('\n');
  }

  private static void line(StringBuilder text, String name, String... words) {
    text.append(name);
    for (String word : words) {
      text.append(' ').append(HttpdText.word(word));
    }
    text.append('\n');
  }

  @Override
  public ServerCommand start(Path folder) {
    return command(folder, "start");
  }

  @Override
  public ServerCommand stop(Path folder) {
    return command(folder, "stop");
  }

  private ServerCommand command(Path folder, String what) {
    return ServerCommand.of(program, "-f", folder.resolve(MAIN).toString(), "-k", what);
  }

  @Override
  public Path log(Path folder) {
    return folder.resolve("log");
  }

  @Override
  public Path running(Path folder) {
    return folder.resolve("pid");
  }
}
