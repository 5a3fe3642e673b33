package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.submission.CostlyReads;
import nodley.store.Store;
import nodley.store.access.OperatorLog;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code GET /api/log}: the operator's log (who did what, and when), latest entries first, in
 * pages. Needs the role operator. The log has names and addresses, and no values of records.
 */
@RestController
class LogController {

  private static final int PAGE = 50;
  private static final int MAX_PAGE = 1_000;

  private final OperatorLog log;
  private final CostlyReads costlyReads;

  LogController(Store store, CostlyReads costlyReads) {
    this.log = store.operatorLog();
    this.costlyReads = costlyReads;
  }

  /**
   * A page of the log.
   *
   * @param before asks for the next page; left out on the last
   */
  record EntriesPage(List<EntryReply> entries, Optional<String> before) {}

  /**
   * An entry.
   *
   * @param at RFC 3339, UTC
   * @param who the person or key; empty if it is nobody known
   * @param subject what it was done to, such as {@code forms/vessel}
   * @param from the address
   */
  record EntryReply(String at, String who, String what, String subject, String from) {

    static EntryReply of(OperatorLog.Entry entry) {
      return new EntryReply(
          Instant.ofEpochMilli(entry.at()).toString(),
          entry.who(),
          entry.what(),
          entry.subject(),
          entry.origin());
    }
  }

  @Needs(Right.OPERATOR)
  @GetMapping("/api/log")
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query query = Query.of(request, "who", "what", "since", "until", "limit", "before");
    int limit = query.number("limit", PAGE, MAX_PAGE);
    var wanted =
        new OperatorLog.Wanted(
            query.get("who"),
            query.get("what"),
            query.moment("since"),
            query.moment("until"),
            query.place("before"),
            limit + 1);
    List<OperatorLog.Entry> found = costlyReads.run(() -> log.list(wanted));
    List<OperatorLog.Entry> page = found.subList(0, Math.min(limit, found.size()));
    return Reply.ok(
        new EntriesPage(
            page.stream().map(EntryReply::of).toList(),
            found.size() > limit
                ? Optional.of(Long.toString(page.getLast().number()))
                : Optional.empty()));
  }
}
