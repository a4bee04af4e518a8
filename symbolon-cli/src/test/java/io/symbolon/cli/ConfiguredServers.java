// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;

/** Real servers in folders of their own, laid out as Debian does it, which a command can reload. */
final class ConfiguredServers {
  private static final Path TOMCAT = Path.of("/usr/share/tomcat10/bin/catalina.sh");

  private ConfiguredServers() {}

  /** A server that runs until this is closed. */
  record Running(Path home, int port, List<String> stop) implements AutoCloseable {
    @Override
    public void close() throws IOException {
      call(stop);
    }
  }

  static void call(List<String> line) throws IOException {
    try {
      Process process =
          new ProcessBuilder(line)
              .directory(Path.of("/tmp").toFile())
              .redirectErrorStream(true)
              .redirectOutput(ProcessBuilder.Redirect.DISCARD)
              .start();
      if (!process.waitFor(180, TimeUnit.SECONDS)) {
        process.destroyForcibly();
        throw new IOException("it takes too long: " + line);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static void await(int port) throws IOException {
    for (int i = 0; i < 2_400; i++) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
        if (socket.isConnected()) {
          return;
        }
      } catch (IOException e) {
        ProcessServer.pause();
      }
    }
    throw new IOException("nobody listens on " + port);
  }

  /** nginx with a site in clear text on the port. */
  static Running nginx(Path home) throws IOException {
    Nginx.assume();
    int port = FreePort.take();
    Files.createDirectories(home.resolve("sites-available"));
    Files.createDirectories(home.resolve("sites-enabled"));
    Lanternfish.file(
        home,
        "sites-available/ingest",
        """
        # The ingest service.
        server {
        \tlisten 127.0.0.1:%d;
        \tserver_name ingest.lanternfish.example;
        \tlocation / { return 200 "17 buoys reporting"; }
        }
        """
            .formatted(port));
    Files.createSymbolicLink(
        home.resolve("sites-enabled/ingest"), home.resolve("sites-available/ingest"));
    StringBuilder folders = new StringBuilder();
    for (String kind : List.of("client_body", "proxy", "fastcgi", "uwsgi", "scgi")) {
      folders
          .append("  ")
          .append(kind)
          .append("_temp_path ")
          .append(home.resolve(kind))
          .append(";\n");
    }
    Path main =
        Lanternfish.file(
            home,
            "nginx.conf",
            """
            pid %s;
            error_log %s;
            events { worker_connections 64; }
            http {
              access_log off;
            %s  include sites-enabled/*;
            }
            """
                .formatted(home.resolve("pid"), home.resolve("error.log"), folders));
    String program = "/usr/sbin/nginx";
    call(List.of(program, "-c", main.toString()));
    await(port);
    return new Running(home, port, List.of(program, "-c", main.toString(), "-s", "stop"));
  }

  /** A cluster whose settings lie beside its data, with a folder that the main file takes in. */
  static Running postgres(Path folder) throws IOException, InterruptedException {
    Postgres.assume();
    int port = FreePort.take();
    Path home = Postgres.database(folder);
    Path data = home.resolve("data");
    Path settings = Files.createDirectory(home.resolve("etc"));
    Path parts = Files.createDirectory(settings.resolve("conf.d"));
    for (String name : List.of("postgresql.conf", "pg_hba.conf")) {
      Files.move(data.resolve(name), settings.resolve(name));
    }
    Path main = settings.resolve("postgresql.conf");
    Files.writeString(
        main,
        Files.readString(main)
            + """
            data_directory = '%s'
            hba_file = '%s'
            listen_addresses = '127.0.0.1'
            port = %d
            unix_socket_directories = ''
            include_dir 'conf.d'
            """
                .formatted(data, settings.resolve("pg_hba.conf"), port));
    for (Path path : List.of(settings, parts)) {
      Postgres.give(path);
    }
    Path control = Postgres.program("pg_ctl");
    call(
        Postgres.command(
            control.toString(),
            "start",
            "-w",
            "-D",
            data.toString(),
            "-l",
            home.resolve("log").toString(),
            "-o",
            "-c config_file=" + main));
    await(port);
    return new Running(
        settings,
        port,
        Postgres.command(control.toString(), "stop", "-m", "fast", "-D", data.toString()));
  }

  /** Debian's own settings of httpd in another folder, with a site in clear text on the port. */
  static Running httpd(Path home) throws IOException {
    Path control = Path.of("/usr/sbin/apache2ctl");
    boolean there = Files.isExecutable(control) && Files.isReadable(Path.of("/etc/apache2"));
    if (!there && "true".equals(System.getenv("CI"))) {
      throw new AssertionError("Apache httpd is not installed; .ci/run installs it");
    }
    Assumptions.assumeTrue(there, "Apache httpd is not installed");
    call(List.of("cp", "-a", "/etc/apache2/.", home.toString()));
    int port = FreePort.take();
    Path run = Files.createDirectory(home.resolve("run"));
    edit(home.resolve("envvars"), "(APACHE_(?:RUN|LOCK|LOG)_DIR)=.*", "$1=" + run);
    edit(home.resolve("envvars"), "(APACHE_PID_FILE)=.*", "$1=" + run.resolve("pid"));
    edit(home.resolve("ports.conf"), "Listen 443", "# Listen 443");
    edit(home.resolve("ports.conf"), "Listen 80", "Listen 127.0.0.1:" + port);
    Path site = home.resolve("sites-available/000-default.conf");
    edit(site, "\\*:80", "127.0.0.1:" + port);
    edit(site, "#ServerName .*", "ServerName ingest.lanternfish.example");
    call(List.of("env", "APACHE_CONFDIR=" + home, control.toString(), "start"));
    await(port);
    return new Running(
        home, port, List.of("env", "APACHE_CONFDIR=" + home, control.toString(), "stop"));
  }

  private static void edit(Path file, String pattern, String text) throws IOException {
    Files.writeString(file, Files.readString(file).replaceAll(pattern, text));
  }

  /** The sample service in a folder of its own; it is started by whoever wants it to run. */
  static Path springJar(Path home) throws IOException {
    Path jar = home.resolve("ingest.jar");
    try (Stream<Path> built = Files.list(Path.of("../symbolon-sample-service/target"))) {
      Path packaged =
          built.filter(one -> one.toString().endsWith("-packaged.jar")).findFirst().orElseThrow();
      Files.copy(packaged, jar);
    }
    return jar;
  }

  /** A Java program that runs until this is closed. */
  static AutoCloseable java(Path folder, int port, String... words) throws IOException {
    List<String> line =
        new java.util.ArrayList<>(List.of(System.getProperty("java.home") + "/bin/java"));
    line.addAll(List.of(words));
    Process process =
        new ProcessBuilder(line)
            .directory(folder.toFile())
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("program.log").toFile())
            .start();
    await(port);
    return () -> {
      process.destroy();
      if (!process.waitFor(60, TimeUnit.SECONDS)) {
        process.destroyForcibly();
      }
    };
  }

  /** Debian's Tomcat with a base of its own and a connector in clear text on the port. */
  static Running tomcat(Path base) throws IOException {
    boolean there = Files.isExecutable(TOMCAT);
    if (!there && "true".equals(System.getenv("CI"))) {
      throw new AssertionError("Tomcat is not installed; .ci/run installs it");
    }
    Assumptions.assumeTrue(there, "Tomcat is not installed");
    Assumptions.assumeTrue(
        Files.isReadable(Path.of("/etc/tomcat10/server.xml")),
        "this account may not read Debian's settings of Tomcat");
    int port = FreePort.take();
    for (String folder : List.of("conf", "logs", "work", "temp", "webapps/ROOT")) {
      Files.createDirectories(base.resolve(folder));
    }
    Path debian = Path.of("/etc/tomcat10");
    for (String name : List.of("server.xml", "web.xml", "catalina.properties", "context.xml")) {
      Files.copy(debian.resolve(name), base.resolve("conf").resolve(name));
    }
    Path main = base.resolve("conf/server.xml");
    Files.writeString(
        main,
        Files.readString(main)
            .replace("<Server port=\"-1\"", "<Server port=\"" + FreePort.take() + "\"")
            .replace("port=\"8080\"", "port=\"" + port + "\" address=\"127.0.0.1\""));
    Files.writeString(base.resolve("webapps/ROOT/index.html"), "17 buoys reporting\n");
    if (System.getProperty("user.name", "").equals("root")) {
      Files.setPosixFilePermissions(
          base.toAbsolutePath().getParent(), PosixFilePermissions.fromString("rwx--x--x"));
      call(List.of("chown", "-R", "root:tomcat", base.resolve("conf").toString()));
      call(
          List.of(
              "chown",
              "-R",
              "tomcat:tomcat",
              base.resolve("logs").toString(),
              base.resolve("work").toString(),
              base.resolve("temp").toString(),
              base.resolve("webapps").toString()));
    }
    call(catalina(base, "start"));
    await(port);
    return new Running(base, port, catalina(base, "stop"));
  }

  /** Tomcat as its makers pack it, unpacked into a folder; its scripts find their own place. */
  static Running packedTomcat(Path folder) throws IOException {
    Path packed;
    try (Stream<Path> all = Files.list(Path.of("../symbolon-test-servers/target/servers"))) {
      packed =
          all.filter(one -> String.valueOf(one.getFileName()).startsWith("apache-tomcat-"))
              .findFirst()
              .orElseThrow()
              .toAbsolutePath();
    }
    call(List.of("cp", "-a", packed + "/.", folder.toString()));
    int port = FreePort.take();
    Path main = folder.resolve("conf/server.xml");
    Files.writeString(
        main,
        Files.readString(main)
            .replace("<Server port=\"8005\"", "<Server port=\"" + FreePort.take() + "\"")
            .replace("port=\"8080\"", "port=\"" + port + "\" address=\"127.0.0.1\""));
    Files.createDirectories(folder.resolve("webapps/ROOT"));
    Files.writeString(folder.resolve("webapps/ROOT/index.html"), "17 buoys reporting\n");
    for (String folders : List.of("logs", "work", "temp")) {
      Files.createDirectories(folder.resolve(folders));
    }
    try (Stream<Path> scripts = Files.list(folder.resolve("bin"))) {
      scripts
          .filter(one -> one.toString().endsWith(".sh"))
          .forEach(one -> one.toFile().setExecutable(true));
    }
    String script = folder.resolve("bin/catalina.sh").toString();
    call(List.of(script, "start"));
    await(port);
    return new Running(folder, port, List.of(script, "stop", "30", "-force"));
  }

  private static List<String> catalina(Path base, String what) {
    List<String> line =
        System.getProperty("user.name", "").equals("root")
            ? new java.util.ArrayList<>(List.of("runuser", "-u", "tomcat", "--"))
            : new java.util.ArrayList<>();
    line.addAll(
        List.of(
            "env",
            "CATALINA_HOME=/usr/share/tomcat10",
            "CATALINA_BASE=" + base,
            TOMCAT.toString(),
            what));
    return line;
  }
}
