// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.task.request.RequestContent;
import io.symbolon.x509.GeneralName;
import java.util.ArrayList;
import java.util.List;

/** What a certificate is asked for, as options say it. */
public final class DraftChoice {
  private DraftChoice() {}

  public static RequestContent of(GivenOptions given) {
    List<GeneralName> others = new ArrayList<>();
    given.values("email").forEach(email -> others.add(GeneralName.ofEmail(email)));
    given.values("uri").forEach(uri -> others.add(GeneralName.ofUri(uri)));
    return new RequestContent(given.subject(), given.hosts(), List.copyOf(others), given.use());
  }
}
