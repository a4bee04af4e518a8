// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.util.List;

/** A source of servers that are no classes of their own; found as a service. */
public interface MoreServers {
  /** {@return the servers; what they are is read when one of them is asked} */
  List<Server> servers();
}
