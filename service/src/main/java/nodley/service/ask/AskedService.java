package nodley.service.ask;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.Ticker;
import io.github.resilience4j.circuitbreaker.CircuitBreaker;
import io.github.resilience4j.circuitbreaker.CircuitBreakerConfig;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import nodley.core.submission.AskReply;
import nodley.service.limits.AskSettings;
import nodley.service.outside.OutsideCalls;

/**
 * One service outside that is asked. Answers about fields are remembered for a minute; a service
 * that fails again and again is not asked for a while; and only so many submissions wait for it at
 * the same time, so that a slow one does not hold up all others. Thread-safe; a question blocks.
 */
final class AskedService {

  private static final String TYPE = "application/json";

  /** How long an answer about a field is remembered. */
  private static final Duration REMEMBERED = Duration.ofMinutes(1);

  /** Characters of questions and answers that are remembered. */
  private static final long MOST_REMEMBERED = 4_000_000;

  /** Submissions that wait for it at the same time. */
  private static final int MOST_WAITING = 32;

  /** Out of so many questions, at least half unanswered: it rests. */
  private static final int COUNTED = 10;

  private static final int LEAST_COUNTED = 5;

  /** How long a service that does not answer is not asked. */
  static final Duration REST = Duration.ofSeconds(15);

  private final AskSettings settings;
  private final OutsideCalls calls;
  private final Clock clock;
  private final CircuitBreaker breaker;
  private final Semaphore waiting = new Semaphore(MOST_WAITING);
  private final Cache<String, Answer> remembered;
  private volatile Optional<Last> last = Optional.empty();

  /** What it said last, and when. */
  record Last(Instant at, String said) {}

  /** What came of a question, and a few words about it for the attempt. */
  record Answer(AskReply reply, String said) {}

  AskedService(String name, AskSettings settings, OutsideCalls calls, Clock clock) {
    this.settings = settings;
    this.calls = calls;
    this.clock = clock;
    this.breaker =
        CircuitBreaker.of(
            name,
            CircuitBreakerConfig.custom()
                .clock(clock)
                .currentTimestampFunction(Clock::millis, TimeUnit.MILLISECONDS)
                .slidingWindowSize(COUNTED)
                .minimumNumberOfCalls(LEAST_COUNTED)
                .permittedNumberOfCallsInHalfOpenState(1)
                .waitDurationInOpenState(REST)
                .build());
    Ticker ticker = () -> TimeUnit.MILLISECONDS.toNanos(clock.millis());
    this.remembered =
        Caffeine.newBuilder()
            .ticker(ticker)
            .expireAfterWrite(REMEMBERED)
            .maximumWeight(MOST_REMEMBERED)
            .<String, Answer>weigher((question, answer) -> question.length() + 1_000)
            .build();
  }

  String where() {
    return settings.url();
  }

  Optional<Last> last() {
    return last;
  }

  /** True if it is not asked just now, because it did not answer. */
  boolean isResting() {
    return breaker.getState() == CircuitBreaker.State.OPEN;
  }

  /**
   * Asks.
   *
   * @param fresh true if an answer of a moment ago is not good enough
   */
  Answer ask(byte[] question, boolean fresh) {
    String key = new String(question, StandardCharsets.UTF_8);
    Answer known = fresh ? null : remembered.getIfPresent(key);
    if (known != null) {
      return new Answer(known.reply(), "answered a moment ago");
    }
    if (!waiting.tryAcquire()) {
      return unanswered("not asked: " + MOST_WAITING + " others wait for it");
    }
    try {
      if (!breaker.tryAcquirePermission()) {
        return unanswered("not asked: it has not answered of late");
      }
      Answer answer = call(question);
      last = Optional.of(new Last(clock.instant(), answer.said()));
      if (!fresh && answer.reply() instanceof AskReply.Answered) {
        remembered.put(key, answer);
      }
      return answer;
    } finally {
      waiting.release();
    }
  }

  private Answer call(byte[] question) {
    long began = breaker.getCurrentTimestamp();
    try {
      OutsideCalls.Answer answer =
          calls.post(
              new OutsideCalls.Call(
                  settings.address(),
                  UUID.randomUUID().toString(),
                  TYPE,
                  question,
                  settings.time()));
      AskReply.Answered reply = Replies.read(answer);
      breaker.onSuccess(breaker.getCurrentTimestamp() - began, breaker.getTimestampUnit());
      return new Answer(reply, "answered");
    } catch (IOException e) {
      breaker.onError(breaker.getCurrentTimestamp() - began, breaker.getTimestampUnit(), e);
      return unanswered(OutsideCalls.said(e));
    }
  }

  private Answer unanswered(String why) {
    return new Answer(
        new AskReply.Unanswered(settings.unanswered() == AskSettings.Unanswered.REFUSE), why);
  }
}
