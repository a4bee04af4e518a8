// SPDX-License-Identifier: Apache-2.0
package io.symbolon.sample;

import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** The observatory's ingest service: it tells how many buoys report. */
@SpringBootApplication
@RestController
public class IngestService {
  /** Made by Spring. */
  public IngestService() {}

  /**
   * Starts the service.
   *
   * @param arguments settings of Spring, as {@code --name=value}
   */
  public static void main(String[] arguments) {
    SpringApplication.run(IngestService.class, arguments);
  }

  /** {@return how many buoys report} */
  @GetMapping("/")
  public String buoys() {
    return "17 buoys reporting\n";
  }
}
