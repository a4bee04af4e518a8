/** The command line: parses options, calls the library, prints. */
module io.symbolon.cli {
  requires com.fasterxml.jackson.core;
  requires org.apache.commons.cli;
  requires io.symbolon.core;
  requires java.net.http;
  requires org.apache.tomcat.embed.core;
  requires org.yaml.snakeyaml;
  requires static org.jspecify;
}
