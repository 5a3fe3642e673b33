package nodley.service.outside;

import io.github.resilience4j.circuitbreaker.CircuitBreaker;
import io.github.resilience4j.circuitbreaker.CircuitBreakerConfig;
import java.time.Clock;
import java.time.Duration;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Guards the service from another that is slow or does not answer: only so many questions wait for
 * it at a time, and if half of the last ten had no answer, it is left alone for a while. Then one
 * question tries. Thread-safe.
 */
public final class Guard {

  private static final Logger LOG = LoggerFactory.getLogger(Guard.class);

  /** Questions that wait at the same time. */
  private static final int MOST_WAITING = 32;

  /** Out of so many questions, at least half unanswered: it rests. */
  private static final int COUNTED = 10;

  private static final int LEAST_COUNTED = 5;

  /** How long it is left alone. */
  private static final Duration REST = Duration.ofSeconds(15);

  private final CircuitBreaker breaker;
  private final Semaphore waiting = new Semaphore(MOST_WAITING);

  /** What is not asked at all. */
  public static final class NotAskedException extends Exception {

    private static final long serialVersionUID = 1;

    private NotAskedException(String why) {
      super("not asked: " + why);
    }
  }

  /**
   * A question.
   *
   * @param <T> of its answer
   * @param <E> what it throws if there is none
   */
  public interface Question<T, E extends Exception> {
    T ask() throws E;
  }

  /**
   * Guards one other service.
   *
   * @param name what the log calls it, as the settings do: {@code nodley.asks.register}
   */
  public Guard(String name, Clock clock) {
    breaker =
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
    breaker
        .getEventPublisher()
        .onStateTransition(
            it -> {
              switch (it.getStateTransition().getToState()) {
                case OPEN -> LOG.warn("{} does not answer; it is left alone for {}", name, REST);
                case CLOSED -> LOG.info("{} answers again", name);
                default -> {}
              }
            });
  }

  /** True if it is left alone just now, because it did not answer. */
  public boolean isResting() {
    return breaker.getState() == CircuitBreaker.State.OPEN;
  }

  /**
   * Asks.
   *
   * @throws NotAskedException if it rests, or too many wait for it; says which
   * @throws E if there was no answer
   */
  public <T, E extends Exception> T ask(Question<T, E> question) throws E, NotAskedException {
    if (!waiting.tryAcquire()) {
      throw new NotAskedException(MOST_WAITING + " others wait for it");
    }
    try {
      if (!breaker.tryAcquirePermission()) {
        throw new NotAskedException("it has not answered of late");
      }
      long began = breaker.getCurrentTimestamp();
      boolean answered = false;
      try {
        T answer = question.ask();
        answered = true;
        return answer;
      } finally {
        long took = breaker.getCurrentTimestamp() - began;
        if (answered) {
          breaker.onSuccess(took, breaker.getTimestampUnit());
        } else {
          breaker.onError(took, breaker.getTimestampUnit(), new IllegalStateException("no answer"));
        }
      }
    } finally {
      waiting.release();
    }
  }
}
