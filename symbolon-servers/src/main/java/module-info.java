// SPDX-License-Identifier: Apache-2.0
/** Reads and writes the TLS settings of servers. */
module io.symbolon.servers {
  requires transitive io.symbolon.core;
  requires io.github.javadiffutils;
  requires java.xml;
  requires org.slf4j;
  requires org.yaml.snakeyaml;
  requires static org.jspecify;

  exports io.symbolon.configure;
  exports io.symbolon.describe;
  exports io.symbolon.lossless;
  exports io.symbolon.server;
  exports io.symbolon.server.machine;
  exports io.symbolon.server.place;
  exports io.symbolon.server.wish;

  uses io.symbolon.server.ClientKind;
  uses io.symbolon.server.InheritingPlaces;
  uses io.symbolon.server.MoreServers;
  uses io.symbolon.server.Server;
  uses io.symbolon.server.ServerRoles;

  provides io.symbolon.server.Server with
      io.symbolon.server.artemis.Artemis,
      io.symbolon.server.haproxy.Haproxy,
      io.symbolon.server.httpd.Httpd,
      io.symbolon.server.nginx.Nginx,
      io.symbolon.server.openldap.Openldap,
      io.symbolon.server.postgresql.Postgresql,
      io.symbolon.server.spring.SpringBoot,
      io.symbolon.server.tomcat.Tomcat,
      io.symbolon.server.wildfly.Wildfly;
  provides io.symbolon.server.MoreServers with
      io.symbolon.describe.ShippedServers;
  provides io.symbolon.server.InheritingPlaces with
      io.symbolon.server.postfix.MasterServices;
  provides io.symbolon.server.ServerRoles with
      io.symbolon.server.mariadb.MariadbAccounts;
  provides io.symbolon.server.ClientKind with
      io.symbolon.server.clients.KafkaClient,
      io.symbolon.server.clients.MariadbClient,
      io.symbolon.server.clients.RedisReplica,
      io.symbolon.server.clients.SystemTrust,
      io.symbolon.server.clients.ToolEnvironment,
      io.symbolon.server.haproxy.HaproxyBackend,
      io.symbolon.server.javaprogram.JavaProgram,
      io.symbolon.server.javaroots.JavaRoots,
      io.symbolon.server.libpq.Libpq,
      io.symbolon.server.spring.SpringClient;
}
