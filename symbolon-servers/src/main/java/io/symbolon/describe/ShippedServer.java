// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.server.Installation;
import io.symbolon.server.OwnCheck;
import io.symbolon.server.Proposal;
import io.symbolon.server.Reload;
import io.symbolon.server.Server;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.Wish;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** A described server whose description is read when more than its name is asked. */
final class ShippedServer implements Server {
  private final String name;
  private @Nullable DescribedServer described;

  ShippedServer(String name) {
    this.name = name;
  }

  private synchronized DescribedServer described() {
    DescribedServer known = described;
    if (known == null) {
      known = DescribedServer.of(name + ".yaml", ShippedServers.description(name));
      described = known;
    }
    return known;
  }

  @Override
  public String name() {
    return name;
  }

  @Override
  public String title() {
    return described().title();
  }

  @Override
  public boolean isDescribed() {
    return true;
  }

  @Override
  public Optional<String> says() {
    return described().says();
  }

  @Override
  public boolean hasRoles() {
    return described().hasRoles();
  }

  @Override
  public Set<Mode> modes() {
    return described().modes();
  }

  @Override
  public List<String> forms() {
    return described().forms();
  }

  @Override
  public List<Installation> find(Machine machine) {
    return described().find(machine);
  }

  @Override
  public Installation at(Machine machine, Path home) {
    return described().at(machine, home);
  }

  @Override
  public Settings read(Machine machine, Installation installation) {
    return described().read(machine, installation);
  }

  @Override
  public Proposal propose(Machine machine, Installation installation, Wish wish) {
    return described().propose(machine, installation, wish);
  }

  @Override
  public Optional<OwnCheck> check(Machine machine, Installation installation) {
    return described().check(machine, installation);
  }

  @Override
  public Reload reload(Machine machine, Installation installation, boolean settings) {
    return described().reload(machine, installation, settings);
  }
}
