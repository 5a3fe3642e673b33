package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.Semaphore;
import nodley.core.ProductVersion;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.service.submission.CostlyReads;
import nodley.store.Store;
import nodley.store.attempt.AttemptFigures;
import nodley.store.care.DiskUse;
import nodley.store.care.Doctor;
import nodley.store.care.Unfinished;
import nodley.store.schema.Schema;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/service}: which service this is, since when it runs, how the disk stands, what waits
 * to be finished, how long submissions took; and what a look over all data finds.
 */
@RestController
class ServiceController {

  private final Store store;
  private final CostlyReads costlyReads;
  private final Clock clock;
  private final Instant startedAt;

  /** One look takes the disk for itself. */
  private final Semaphore examining = new Semaphore(1);

  ServiceController(Store store, CostlyReads costlyReads, Clock clock) {
    this.store = store;
    this.costlyReads = costlyReads;
    this.clock = clock;
    this.startedAt = clock.instant();
  }

  /**
   * What an operator is told.
   *
   * @param startedAt RFC 3339, UTC
   * @param disk sizes in bytes
   */
  record ServiceReply(
      String version,
      int dataVersion,
      String startedAt,
      DiskUse disk,
      @JsonUnwrapped Unfinished unfinished) {}

  record Latencies(List<AttemptFigures.Latency> latencies) {}

  record Findings(List<FindingReply> findings) {}

  /** What one look came to. */
  record FindingReply(String what, boolean ok, String detail) {}

  @Needs(Right.OPERATOR)
  @GetMapping("/api/service")
  ResponseEntity<byte[]> tell(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(
        new ServiceReply(
            ProductVersion.current(),
            Schema.VERSION,
            startedAt.toString(),
            costlyReads.run(store::diskUse),
            costlyReads.run(store::unfinished)));
  }

  /** How long submissions of the last day took, by the hour. */
  @Needs(Right.OPERATOR)
  @GetMapping("/api/service/latency")
  ResponseEntity<byte[]> latency(HttpServletRequest request) {
    Query query = Query.of(request, "since", "until");
    long until = query.moment("until").orElseGet(clock::millis);
    var period =
        new AttemptFigures.Period(
            query.moment("since").orElse(until - Duration.ofDays(1).toMillis()), until);
    return Reply.ok(
        new Latencies(costlyReads.run(() -> store.attempts().figures().latencies(period))));
  }

  /** All data are read, by one caller at a time. */
  @Needs(Right.OPERATOR)
  @GetMapping("/api/service/findings")
  ResponseEntity<byte[]> findings(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(
        new Findings(
            costlyReads.run(this::examine).stream()
                .map(it -> new FindingReply(it.what(), it.isWell(), it.detail()))
                .toList()));
  }

  private List<Doctor.Finding> examine() {
    if (!examining.tryAcquire()) {
      throw Problem.of(
              503, "busy", "The data are being looked over", "Try again once that has ended.")
          .header("Retry-After", "10");
    }
    try {
      return store.examine();
    } finally {
      examining.release();
    }
  }
}
