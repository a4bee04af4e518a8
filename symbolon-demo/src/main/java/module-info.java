/** The demo: a story on made-up data, with a real server. */
module io.symbolon.demo {
  requires io.symbolon.cli;
  requires io.symbolon.core;
  requires java.net.http;
  requires org.apache.tomcat.embed.core;
  requires static org.jspecify;

  provides io.symbolon.cli.story.Story with
      io.symbolon.demo.DemoStory;
}
