package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.attempt.AttemptLog;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Events;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.live.Feed;
import nodley.service.operator.Logged;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.service.submission.CostlyReads;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.attempt.Attempt;
import nodley.store.attempt.AttemptFigures;
import nodley.store.attempt.Attempts;
import nodley.store.delivery.Deliveries;
import nodley.store.form.Forms;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/attempts}: the log of attempts (what was sent to forms, and what became of it): a
 * list in pages, one attempt, and a stream of new ones. Needs the role author, for the form in
 * question. Values are told as far as the caller may see the fields.
 */
@RestController
@RequestMapping("/api/attempts")
class AttemptsController {

  private static final int PAGE = 50;
  private static final int MAX_PAGE = 1_000;
  private static final int MINUTES = 10;
  private static final int MAX_MINUTES = 120;
  private static final List<String> VERDICTS =
      List.of("accepted", "refused", "repeated", "failed", "trapped");

  private final Attempts attempts;
  private final Forms forms;
  private final Deliveries deliveries;
  private final AttemptLog log;
  private final Feed<Attempt> live;
  private final Submissions submissions;
  private final CostlyReads costlyReads;
  private final Events events;
  private final Clock clock;

  AttemptsController(
      Store store,
      AttemptLog log,
      Feed<Attempt> live,
      Submissions submissions,
      CostlyReads costlyReads,
      Events events,
      Clock clock) {
    this.clock = clock;
    this.events = events;
    this.costlyReads = costlyReads;
    this.attempts = store.attempts();
    this.forms = store.forms();
    this.deliveries = store.deliveries();
    this.log = log;
    this.live = live;
    this.submissions = submissions;
  }

  /**
   * A page of attempts.
   *
   * @param checks how many checks of the form there were; left out if no form is asked for
   * @param before asks for the next page; left out on the last
   */
  record AttemptsPage(
      List<AttemptView.Brief> attempts, Optional<Long> checks, Optional<String> before) {}

  /** The checks of a form are logged for so many minutes. */
  record Traced(String form, int minutes) {}

  @Needs(Right.AUTHOR)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query query =
        Query.of(
            request, "form", "verdict", "code", "field", "record", "since", "until", "limit",
            "before");
    int limit = query.number("limit", PAGE, MAX_PAGE);
    Attempts.Wanted wanted =
        new Attempts.Wanted(
            query.get("form"),
            verdict(query),
            query.get("code"),
            query.get("field"),
            query.get("record"),
            query.moment("since"),
            query.moment("until"),
            query.place("before"),
            limit + 1);
    List<Attempts.Logged> found = costlyReads.run(() -> attempts.list(wanted));
    List<Attempts.Logged> page = found.subList(0, Math.min(limit, found.size()));
    AttemptView view = new AttemptView(forms, Caller.current());
    return Reply.ok(
        new AttemptsPage(
            page.stream().map(it -> view.brief(it.attempt())).toList(),
            query.get("form").map(log::checks),
            found.size() > limit
                ? Optional.of(Long.toString(page.getLast().number()))
                : Optional.empty()));
  }

  private static Optional<String> verdict(Query query) {
    Optional<String> verdict = query.get("verdict");
    verdict
        .filter(it -> !VERDICTS.contains(it))
        .ifPresent(
            it -> {
              throw Problem.badQuery(
                  "\"verdict\" is accepted, refused, repeated, trapped or failed, not \""
                      + Wellformed.of(it)
                      + "\".");
            });
    return verdict;
  }

  @Needs(Right.AUTHOR)
  @GetMapping("/{id}")
  ResponseEntity<byte[]> one(@PathVariable String id, HttpServletRequest request) {
    Optional<String> form = Query.of(request, "form").get("form");
    return Reply.ok(
        attempts
            .find(id)
            .filter(it -> form.isEmpty() || form.get().equals(it.form()))
            .map(it -> new AttemptView(forms, Caller.current()).full(it, deliveries.ofAttempt(it)))
            .orElseThrow(
                () ->
                    Problem.of(
                        404,
                        "no-such-attempt",
                        "There is no such attempt",
                        "Nothing is logged under "
                            + Wellformed.of(id)
                            + ". Attempts go by the X-Request-Id of their reply, and are kept for"
                            + " 30 days.")));
  }

  /** Has the checks of a form logged, too, for some minutes. */
  @Logged("trace-checks")
  @Needs(Right.AUTHOR)
  @PutMapping("/checks/{form}")
  ResponseEntity<byte[]> traceChecks(@PathVariable String form, HttpServletRequest request) {
    int minutes = Query.of(request, "minutes").number("minutes", MINUTES, MAX_MINUTES);
    submissions.form(form, Caller.current());
    log.traceChecks(form, Duration.ofMinutes(minutes));
    return Reply.ok(new Traced(form, minutes));
  }

  /** Server-sent events (HTML, section 9.2): one for each attempt, from now on. */
  @Needs(Right.AUTHOR)
  @GetMapping("/live")
  void live(HttpServletRequest request, HttpServletResponse response) {
    Query query = Query.of(request, "form", "verdict");
    Optional<String> form = query.get("form");
    Optional<String> verdict = verdict(query);
    Predicate<Attempt> wanted =
        it ->
            form.map(it.form()::equals).orElse(true)
                && verdict.map(it.verdict()::equals).orElse(true);
    AttemptView view = new AttemptView(forms, Caller.current());
    events.send(
        request, response, live, form.orElse(""), wanted, told -> event(told.thing(), view));
  }

  /**
   * How many attempts there were in each hour, by form and verdict: for a plot.
   *
   * @param counts in the order of time
   */
  record Hours(List<AttemptFigures.Hour> counts) {}

  @Needs(Right.AUTHOR)
  @GetMapping("/hours")
  ResponseEntity<byte[]> hours(HttpServletRequest request) {
    Query query = Query.of(request, "form", "since", "until");
    AttemptFigures.Period period = period(query);
    return Reply.ok(
        new Hours(
            costlyReads.run(() -> attempts.figures().hours(query.get("form"), period)).stream()
                .filter(it -> Authorization.isAuthor(Caller.current(), it.form()))
                .toList()));
  }

  /** Where people struggle with a form: its fields by how often they were refused. */
  @Needs(Right.AUTHOR)
  @GetMapping("/struggles")
  ResponseEntity<byte[]> struggles(HttpServletRequest request) {
    Query query = Query.of(request, "form", "since", "until");
    String form =
        query.get("form").orElseThrow(() -> Problem.badQuery("\"form\" says of which form."));
    submissions.form(form, Caller.current());
    AttemptFigures.Period period = period(query);
    AttemptFigures.Struggles found =
        costlyReads.run(() -> attempts.figures().struggles(form, period));
    AttemptView view = new AttemptView(forms, Caller.current());
    return Reply.ok(found.without(field -> view.isHidden(form, field)));
  }

  /** The last week, unless it says another. */
  private AttemptFigures.Period period(Query query) {
    long until = query.moment("until").orElseGet(clock::millis);
    return new AttemptFigures.Period(
        query.moment("since").orElse(until - Duration.ofDays(7).toMillis()), until);
  }

  private static String event(Attempt attempt, AttemptView view) {
    String json = Json.text(view.brief(attempt));
    return "event: attempt\nid: " + attempt.id() + "\ndata: " + json;
  }
}
