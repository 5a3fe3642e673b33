package nodley.service.caller;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.store.Store;
import nodley.store.access.Keys;
import nodley.store.access.SignedTokens;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Passes: short-lived bearer tokens for people who have signed in elsewhere. A site's back end
 * makes one with a key that may vouch; the site's page sends it. Nothing of them is stored: a pass
 * holds what it says, signed (HMAC), with the time of its end in clear. It ends early if its key
 * ends. Thread-safe.
 */
@Component
public final class Passes {

  private static final JsonMapper JSON = JsonMapper.shared();

  /**
   * {@code pass.SECONDS.END.SIGNED}: for how long, which pages read; and until when, in seconds
   * since 1970.
   */
  private static final Pattern PASS =
      Pattern.compile("pass\\.([0-9]{1,4})\\.([0-9]{1,12})\\.([A-Za-z0-9_-]+)");

  private static final int MOST_OPENED = 1_000;

  /** Whom passes that were shown are for, which no time changes. */
  private final Cache<String, Holder> opened =
      Caffeine.newBuilder().maximumSize(MOST_OPENED).build();

  private final SignedTokens tokens;
  private final Keys keys;
  private final Clock clock;

  /**
   * Who a pass is for.
   *
   * @param key the name of the key that vouches
   * @param id what the site calls the person
   * @param name shown to others; empty if none is told
   * @param email empty if none is told
   * @param forms the forms that it is good for; never empty
   */
  public record Holder(
      String key, String id, String name, String email, Set<String> roles, Set<String> forms) {

    /** The id of the person: another key's person of the same id is somebody else. */
    public String person() {
      return "pass:" + key + ":" + id;
    }
  }

  Passes(Store store, Clock clock) {
    this.tokens = store.tokens();
    this.keys = store.keys();
    this.clock = clock;
  }

  /**
   * Makes a pass that is good from now on.
   *
   * @param time for how long, as pages read it
   */
  public String make(Holder holder, Duration time, Instant until) {
    String times = time.toSeconds() + "." + until.getEpochSecond();
    return "pass." + times + "." + tokens.seal(purpose(times), JSON.writeValueAsString(holder));
  }

  private static String purpose(String times) {
    return "pass " + times;
  }

  /** Returns who shows a pass; empty if the token is none that was made here. */
  Optional<Caller> find(String token, List<Locale> languages) {
    Matcher parts = PASS.matcher(token);
    if (!parts.matches()) {
      return Optional.empty();
    }
    long end = Long.parseLong(parts.group(2));
    return Optional.ofNullable(opened.get(token, _ -> open(parts)))
        .map(holder -> caller(holder, end, languages));
  }

  private Holder open(Matcher parts) {
    return tokens
        .open(purpose(parts.group(1) + "." + parts.group(2)), parts.group(3))
        .map(text -> JSON.readValue(text, Holder.class))
        .orElse(null);
  }

  private Caller caller(Holder holder, long end, List<Locale> languages) {
    Instant until = Instant.ofEpochSecond(end);
    if (!clock.instant().isBefore(until)) {
      return new Caller.InvalidToken("The pass ended at " + until + ".", languages);
    }
    if (keys.named(holder.key()).filter(Authorization::mayVouch).isEmpty()) {
      return new Caller.InvalidToken(
          "The pass was made with a key that has ended: " + holder.key() + ".", languages);
    }
    return new Caller.Known(
        holder.person(),
        holder.name().isEmpty() ? holder.id() : holder.name(),
        holder.person(),
        holder.email(),
        false,
        holder.roles(),
        holder.forms(),
        languages);
  }
}
