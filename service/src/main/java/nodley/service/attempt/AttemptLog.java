package nodley.service.attempt;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.LongAdder;
import nodley.service.caller.Caller;
import nodley.service.limits.Limits;
import nodley.service.limits.RateLimits;
import nodley.service.live.Feed;
import nodley.service.problem.Problem;
import nodley.service.problem.Problems;
import nodley.store.Store;
import nodley.store.attempt.Attempt;
import nodley.store.attempt.Attempts;
import nodley.store.common.StoreException;
import nodley.store.form.PublishedForm;
import org.slf4j.MDC;
import org.springframework.stereotype.Component;

/**
 * Records each submission in the log of attempts, whatever becomes of it, unless more than {@link
 * LogPace} takes came to nothing; and counts those of strangers against their rate limit.
 * Thread-safe.
 */
@Component
public final class AttemptLog {

  private final Attempts attempts;
  private final Feed<Attempt> live;
  private final Clock clock;
  private final RateLimits rates;
  private final int valuesKept;
  private final LogPace pace;
  private final Map<String, LongAdder> checks = new ConcurrentHashMap<>();
  private final Map<String, Long> tracedUntil = new ConcurrentHashMap<>();

  AttemptLog(Store store, Feed<Attempt> live, Clock clock, RateLimits rates, Limits limits) {
    this.rates = rates;
    this.valuesKept = (int) limits.log().attempt().toBytes();
    this.pace = new LogPace(limits.log().perSecond());
    this.attempts = store.attempts();
    this.live = live;
    this.clock = clock;
  }

  /** What answers a submission. */
  public interface Work<T> {
    T run(AttemptRecorder attempt) throws IOException;
  }

  /** What answers a check, which is followed or not. */
  public interface CheckWork<T> {
    T run(Optional<AttemptRecorder> attempt) throws IOException;
  }

  /**
   * Answers an add or an edit, whose word is {@code mode}, and logs it.
   *
   * @throws Problem 429 if a stranger sends too many; that is not logged
   */
  public <T> T follow(HttpServletRequest request, PublishedForm form, String mode, Work<T> work)
      throws IOException {
    count(RateLimits.Kind.ADD, request, form);
    return logged(request, form, mode, work);
  }

  private void count(RateLimits.Kind kind, HttpServletRequest request, PublishedForm form) {
    if (!Caller.current().isKnown()) {
      rates.count(kind, form.form(), request.getRemoteAddr());
    }
  }

  private <T> T logged(HttpServletRequest request, PublishedForm form, String mode, Work<T> work)
      throws IOException {
    AttemptRecorder attempt = attempt(request, form, mode);
    try {
      return work.run(attempt);
    } catch (Problem e) {
      attempt.failed(e);
      throw e;
    } catch (StoreException e) {
      attempt.failed(Problems.of(e));
      throw e;
    } finally {
      log(attempt);
    }
  }

  /**
   * Answers a check. It is counted; and logged like a submission while somebody asked for that.
   *
   * @throws Problem 429 if a stranger sends too many
   */
  public <T> T followCheck(HttpServletRequest request, PublishedForm form, CheckWork<T> work)
      throws IOException {
    count(RateLimits.Kind.CHECK, request, form);
    checks.computeIfAbsent(form.name(), _ -> new LongAdder()).increment();
    Long until = tracedUntil.get(form.name());
    return until != null && clock.millis() < until
        ? logged(request, form, "check", attempt -> work.run(Optional.of(attempt)))
        : work.run(Optional.empty());
  }

  /**
   * Counts what keeps a draft as a check is counted. It is not logged: nothing is submitted yet.
   *
   * @throws Problem 429 if a stranger sends too many
   */
  public void countDraft(HttpServletRequest request, PublishedForm form) {
    count(RateLimits.Kind.CHECK, request, form);
  }

  private AttemptRecorder attempt(HttpServletRequest request, PublishedForm form, String mode) {
    String type = Optional.ofNullable(request.getContentType()).orElse("");
    String door =
        !request.getServletPath().startsWith("/api/")
            ? "page"
            : type.startsWith("application/x-www-form-urlencoded") ? "form" : "json";
    return new AttemptRecorder(
        MDC.get("request"),
        form.form(),
        form.revision(),
        mode,
        clock.millis(),
        request.getRemoteAddr(),
        Caller.current().name(),
        door,
        valuesKept);
  }

  private void log(AttemptRecorder attempt) {
    if (attempt.isDismissed()) {
      return;
    }
    boolean isNew = !attempt.isLogged() && pace.take(attempt.form());
    if (isNew || live.isWatched()) {
      Attempt told = attempt.told();
      if (isNew) {
        attempts.log(told);
      }
      live.tell(told);
    }
  }

  /** Has the checks of a form logged, too, for a while from now on. */
  public void traceChecks(String form, Duration duration) {
    tracedUntil.put(form, clock.millis() + duration.toMillis());
  }

  /** How many checks there were of a form since the service started. */
  public long checks(String form) {
    LongAdder counted = checks.get(form);
    return counted == null ? 0 : counted.sum();
  }
}
