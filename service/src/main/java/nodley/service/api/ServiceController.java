package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Clock;
import java.time.Instant;
import nodley.core.ProductVersion;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.submission.CostlyReads;
import nodley.store.Store;
import nodley.store.care.DiskUse;
import nodley.store.schema.Schema;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** {@code GET /api/service}: which service this is, since when it runs, and how the disk stands. */
@RestController
class ServiceController {

  private final Store store;
  private final CostlyReads costlyReads;
  private final Instant startedAt;

  ServiceController(Store store, CostlyReads costlyReads, Clock clock) {
    this.store = store;
    this.costlyReads = costlyReads;
    this.startedAt = clock.instant();
  }

  /**
   * What an operator is told.
   *
   * @param startedAt RFC 3339, UTC
   * @param disk sizes in bytes
   */
  record ServiceReply(String version, int dataVersion, String startedAt, DiskUse disk) {}

  @Needs(Right.OPERATOR)
  @GetMapping("/api/service")
  ResponseEntity<byte[]> tell(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(
        new ServiceReply(
            ProductVersion.current(),
            Schema.VERSION,
            startedAt.toString(),
            costlyReads.run(store::diskUse)));
  }
}
