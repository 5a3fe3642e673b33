package nodley.service.caller;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import io.github.bucket4j.Bucket;
import io.github.bucket4j.ConsumptionProbe;
import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.util.Optional;
import nodley.service.limits.Limits;
import nodley.service.limits.Network;
import nodley.service.limits.RateLimits;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.Key;
import nodley.store.access.Keys;
import nodley.store.access.OperatorLog;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Knows keys, and slows down who guesses them: an address has some wrong ones a minute. After them
 * it hears 429 whether the next is right or not, except for a key that was right from there before,
 * so that nobody is shut out by a neighbour's guesses. What is known of addresses is bounded, and
 * gone with the process. Safe for many threads.
 */
@Component
public final class KeyGuesses {

  private static final Logger LOG = LoggerFactory.getLogger(KeyGuesses.class);
  private static final int MOST_ADDRESSES = 10_000;

  private final Keys keys;
  private final OperatorLog log;
  private final int wrongPerMinute;
  private final Cache<String, Bucket> wrong =
      Caffeine.newBuilder()
          .maximumSize(MOST_ADDRESSES)
          .expireAfterAccess(Duration.ofMinutes(10))
          .build();
  private final Cache<String, Boolean> right =
      Caffeine.newBuilder()
          .maximumSize(MOST_ADDRESSES)
          .expireAfterAccess(Duration.ofDays(1))
          .build();

  KeyGuesses(Store store, Limits limits) {
    this.wrongPerMinute = limits.stranger().guesses();
    this.keys = store.keys();
    this.log = store.operatorLog();
  }

  /**
   * The key that a request shows; nothing if there is no such key.
   *
   * @throws Problem 429 if too many wrong ones came from there
   */
  public Optional<Key> find(String secret, HttpServletRequest request) {
    Optional<Key> key = keys.find(secret);
    String address = Network.of(request.getRemoteAddr());
    String shown = address + " " + key.map(Key::name).orElse("");
    if (key.isPresent() && right.getIfPresent(shown) != null) {
      return key;
    }
    if (key.isEmpty()) {
      countWrong(address);
      return key;
    }
    Bucket left = wrong.getIfPresent(address);
    if (left != null && left.getAvailableTokens() == 0) {
      throw tooMany(left);
    }
    right.put(shown, true);
    return key;
  }

  private void countWrong(String address) {
    Bucket left = wrong.get(address, _ -> bucket(wrongPerMinute));
    ConsumptionProbe counted = left.tryConsumeAndReturnRemaining(1);
    if (!counted.isConsumed()) {
      throw tooMany(left);
    }
    if (counted.getRemainingTokens() == 0) {
      LOG.warn("{} has shown {} wrong keys within a minute.", address, wrongPerMinute);
      log.addLater("", "wrong-keys", "", address);
    }
  }

  private static Bucket bucket(int wrongPerMinute) {
    return Bucket.builder()
        .addLimit(
            limit ->
                limit
                    .capacity(wrongPerMinute)
                    .refillIntervally(wrongPerMinute, Duration.ofMinutes(1)))
        .build();
  }

  private static Problem tooMany(Bucket bucket) {
    return RateLimits.tooMany(
        bucket, "too-many-guesses", "Too many wrong keys came from there", "");
  }
}
