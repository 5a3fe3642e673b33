package nodley.service.limits;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import io.github.bucket4j.Bucket;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import nodley.core.form.Form;
import nodley.core.form.Pace;
import nodley.service.problem.Problem;
import org.springframework.stereotype.Component;

/**
 * Rate limits for strangers by network and form (token buckets). In memory, for the networks seen
 * last. Thread-safe.
 */
@Component
public final class RateLimits {

  private static final int MOST_NETWORKS = 20_000;

  /** What is counted. */
  public enum Kind {
    ADD("adds and edits"),
    CHECK("checks"),
    COMPARISON("comparisons of secrets");

    private final String noun;

    Kind(String noun) {
      this.noun = noun;
    }
  }

  private record Counted(Kind kind, String form, String whose, Pace.Rate rate) {}

  private final Limits.Strangers limits;
  private final int comparisons;
  private final Cache<Counted, Bucket> buckets =
      Caffeine.newBuilder()
          .maximumSize(MOST_NETWORKS)
          .expireAfterAccess(Pace.Unit.DAY.length())
          .build();

  RateLimits(Limits limits) {
    this.limits = limits.stranger();
    this.comparisons = limits.secret().comparisons();
  }

  /**
   * Counts one request of a stranger.
   *
   * @throws Problem 429, with Retry-After, if there were too many
   */
  public void count(Kind kind, Form form, String address) {
    Optional<Pace.Rate> own = kind == Kind.ADD ? form.pace().add() : form.pace().check();
    Pace.Rate rate = own.orElseGet(() -> perMinute(kind));
    count(
        new Counted(kind, form.name(), Network.of(address), rate),
        () ->
            "A stranger may send "
                + rate.count()
                + " "
                + kind.noun
                + " of \""
                + form.name()
                + "\" "
                + (rate.unit() == Pace.Unit.HOUR ? "an " : "a ")
                + rate.unit().word()
                + ".");
  }

  /**
   * Counts a comparison of a secret of one record, whoever asks for it.
   *
   * @throws Problem 429, with Retry-After, if there were too many within a minute
   */
  public void countComparison(String form, String record) {
    Pace.Rate rate = perMinute(Kind.COMPARISON);
    count(
        new Counted(Kind.COMPARISON, form, record, rate),
        () -> "Secrets of one record are compared " + rate.count() + " times a minute.");
  }

  private void count(Counted counted, Supplier<String> detail) {
    Bucket bucket = buckets.get(counted, it -> bucket(it.rate()));
    if (!bucket.tryConsume(1)) {
      throw tooMany(bucket, "too-many-requests", "Too many requests came from there", detail.get());
    }
  }

  private Pace.Rate perMinute(Kind kind) {
    int count =
        switch (kind) {
          case ADD -> limits.adds();
          case CHECK -> limits.checks();
          case COMPARISON -> comparisons;
        };
    return new Pace.Rate(count, Pace.Unit.MINUTE);
  }

  /** A bucket that is full at first and is filled evenly. */
  private static Bucket bucket(Pace.Rate rate) {
    return Bucket.builder()
        .addLimit(
            limit -> limit.capacity(rate.count()).refillGreedy(rate.count(), rate.unit().length()))
        .build();
  }

  /** The problem of an empty bucket: 429, and when it is worth trying again. */
  public static Problem tooMany(Bucket bucket, String code, String title, String detail) {
    long nanos = bucket.estimateAbilityToConsume(1).getNanosToWaitForRefill();
    long seconds = TimeUnit.NANOSECONDS.toSeconds(nanos) + 1;
    return Problem.of(
            429,
            code,
            title,
            (detail + " Try again in " + seconds + (seconds == 1 ? " second." : " seconds."))
                .strip())
        .header("Retry-After", Long.toString(seconds));
  }
}
