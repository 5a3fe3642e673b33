package nodley.service.ask;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.Ticker;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import nodley.core.submission.AskReply;
import nodley.service.limits.AskSettings;
import nodley.service.limits.Unanswered;
import nodley.service.outside.Guard;
import nodley.service.outside.OutsideCalls;

/**
 * One service outside that is asked. Answers about fields are remembered for a minute. Thread-safe;
 * a question blocks.
 */
final class AskedService {

  private static final String TYPE = "application/json";

  /** How long an answer about a field is remembered. */
  private static final Duration REMEMBERED = Duration.ofMinutes(1);

  /** Characters of questions and answers that are remembered. */
  private static final long MOST_REMEMBERED = 4_000_000;

  private final AskSettings settings;
  private final OutsideCalls calls;
  private final Clock clock;
  private final Guard guard;
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
    this.guard = new Guard("nodley.asks." + name, clock);
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
    return guard.isResting();
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
    try {
      Answer answer = new Answer(guard.ask(() -> call(question)), "answered");
      last = Optional.of(new Last(clock.instant(), answer.said()));
      if (!fresh) {
        remembered.put(key, answer);
      }
      return answer;
    } catch (Guard.NotAskedException e) {
      return unanswered(e.getMessage());
    } catch (IOException e) {
      String said = OutsideCalls.said(e);
      last = Optional.of(new Last(clock.instant(), said));
      return unanswered(said);
    }
  }

  private AskReply call(byte[] question) throws IOException {
    return Replies.read(
        calls.post(
            new OutsideCalls.Call(
                settings.address(),
                UUID.randomUUID().toString(),
                TYPE,
                question,
                settings.time())));
  }

  private Answer unanswered(String why) {
    return new Answer(new AskReply.Unanswered(settings.unanswered() == Unanswered.REFUSE), why);
  }
}
