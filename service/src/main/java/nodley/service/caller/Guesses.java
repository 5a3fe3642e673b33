package nodley.service.caller;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import io.github.bucket4j.Bucket;
import jakarta.servlet.http.HttpServletRequest;
import java.net.Inet6Address;
import java.net.InetAddress;
import java.time.Duration;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import nodley.service.problem.Problem;
import nodley.store.Keys;
import nodley.store.Store;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Knows keys, and slows down who guesses them: an address has some wrong ones a minute. After them
 * it hears 429 whether the next is right or not, except for a key that was right from there before,
 * so that nobody is shut out by a neighbour's guesses. What is known of addresses is bounded, and
 * gone with the process. Safe for many threads. Behind a proxy all have its address.
 */
@Component
public final class Guesses {

  private static final Logger LOG = LoggerFactory.getLogger(Guesses.class);
  private static final int WRONG_A_MINUTE = 30;
  private static final int MOST_ADDRESSES = 10_000;

  /** Who is at home in an IPv6 network of this many bits is one (RFC 6177). */
  private static final int IPV6_BYTES = 8;

  private final Keys keys;
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

  Guesses(Store store) {
    this.keys = store.keys();
  }

  /**
   * The name of a key that a request shows; nothing if there is no such key.
   *
   * @throws Problem 429 if too many wrong ones came from there
   */
  public Optional<String> nameOf(String key, HttpServletRequest request) {
    Optional<String> name = keys.nameOf(key);
    String address = network(request.getRemoteAddr());
    String shown = address + " " + name.orElse("");
    if (name.isPresent() && right.getIfPresent(shown) != null) {
      return name;
    }
    Bucket left = wrong.getIfPresent(address);
    if (left != null && left.getAvailableTokens() == 0) {
      throw tooMany(left);
    }
    if (name.isPresent()) {
      right.put(shown, true);
    } else {
      note(address);
    }
    return name;
  }

  private void note(String address) {
    Bucket left = wrong.get(address, _ -> bucket());
    if (left.tryConsume(1) && left.getAvailableTokens() == 0) {
      LOG.warn("{} has shown {} wrong keys within a minute.", address, WRONG_A_MINUTE);
    }
  }

  private static Bucket bucket() {
    return Bucket.builder()
        .addLimit(
            limit ->
                limit
                    .capacity(WRONG_A_MINUTE)
                    .refillIntervally(WRONG_A_MINUTE, Duration.ofMinutes(1)))
        .build();
  }

  private static Problem tooMany(Bucket bucket) {
    long nanos = bucket.estimateAbilityToConsume(1).getNanosToWaitForRefill();
    long seconds = Math.max(1, TimeUnit.NANOSECONDS.toSeconds(nanos) + 1);
    return Problem.of(
            429,
            "too-many-guesses",
            "Too many wrong keys came from there",
            "Try again in " + seconds + " seconds.")
        .header("Retry-After", Long.toString(seconds));
  }

  /** What stands for an address: of IPv6 its network. */
  static String network(String address) {
    try {
      InetAddress parsed = InetAddress.ofLiteral(address);
      return parsed instanceof Inet6Address
          ? HexFormat.of().formatHex(Arrays.copyOf(parsed.getAddress(), IPV6_BYTES)) + "::/64"
          : address;
    } catch (IllegalArgumentException e) {
      return address;
    }
  }
}
