package nodley.service.source;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Predicate;
import nodley.core.file.Sources;
import nodley.core.form.Choice;
import nodley.core.form.SourceColumn;
import nodley.core.form.SourceOptions;
import nodley.core.submission.Lookups;
import nodley.core.submission.Steps;
import nodley.core.value.Value;
import nodley.service.limits.OutwardSettings;
import nodley.service.limits.SourceSettings;
import nodley.service.limits.Unanswered;
import nodley.service.outside.Guard;
import nodley.service.problem.Problem;
import nodley.store.source.Source;
import nodley.store.source.SourceException;
import org.springframework.stereotype.Component;

/**
 * The databases that the settings name. Each is guarded: one that does not answer holds up nobody
 * for long. Thread-safe; a question blocks.
 */
@Component
public final class SourceDatabases implements Sources, AutoCloseable {

  private static final long MOST_LABELS = 10_000;

  /** How long a label is remembered, since lists of records ask for many. */
  private static final Duration REMEMBERED = Duration.ofMinutes(1);

  /** Seconds after which a submission may be sent again that a database did not answer for. */
  private static final String RETRY_AFTER = "5";

  /**
   * How a database stands, for operators.
   *
   * @param where its address, without whatever stands behind a question mark
   * @param resting true if it is left alone just now, because it did not answer
   * @param asked when it was asked last: RFC 3339, UTC
   * @param said what came of that
   */
  public record Standing(
      String name, String where, boolean resting, Optional<String> asked, Optional<String> said) {}

  /** What came of the last question. */
  private record Last(Instant at, String said) {}

  private record Guarded(
      SourceSettings settings, Source source, Guard guard, AtomicReference<Last> last) {}

  private record Row(SourceOptions options, String value) {}

  private final Map<String, Guarded> all = new TreeMap<>();
  private final Cache<Row, String> labels =
      Caffeine.newBuilder().maximumSize(MOST_LABELS).expireAfterWrite(REMEMBERED).build();

  private final Clock clock;

  SourceDatabases(OutwardSettings settings, Clock clock) {
    settings
        .sources()
        .forEach(
            (name, it) ->
                all.put(
                    name,
                    new Guarded(
                        it,
                        new Source(it.url(), it.user(), it.password(), it.time()),
                        new Guard("nodley.sources." + name, clock),
                        new AtomicReference<>())));
    this.clock = clock;
  }

  /** Returns how each stands, by name. */
  public List<Standing> standing() {
    return all.entrySet().stream().map(it -> standing(it.getKey(), it.getValue())).toList();
  }

  private static Standing standing(String name, Guarded guarded) {
    Optional<Last> last = Optional.ofNullable(guarded.last().get());
    return new Standing(
        name,
        guarded.settings().url().replaceFirst("[?;].*", ""),
        guarded.guard().isResting(),
        last.map(it -> it.at().truncatedTo(ChronoUnit.MILLIS).toString()),
        last.map(Last::said));
  }

  private interface Question<T> {
    T ask(Source source) throws SourceException;
  }

  /** Returns the answer; nothing if there is none. */
  private <T> Optional<T> ask(String name, Question<T> question) {
    Guarded guarded = all.get(name);
    if (guarded == null) {
      // It was there when the form was published.
      return Optional.empty();
    }
    try {
      Optional<T> answer = Optional.of(guarded.guard().ask(() -> inTime(guarded, question)));
      guarded.last().set(new Last(clock.instant(), "answered"));
      return answer;
    } catch (Guard.NotAskedException e) {
      return Optional.empty();
    } catch (SourceException e) {
      guarded.last().set(new Last(clock.instant(), e.getMessage()));
      return Optional.empty();
    }
  }

  /** Waiting for a connection and for an answer together take no longer than is set. */
  private static <T> T inTime(Guarded guarded, Question<T> question) throws SourceException {
    FutureTask<T> asked = new FutureTask<>(() -> question.ask(guarded.source()));
    Thread.startVirtualThread(asked);
    try {
      return asked.get(guarded.settings().time().toMillis(), TimeUnit.MILLISECONDS);
    } catch (ExecutionException e) {
      if (e.getCause() instanceof SourceException away) {
        throw away;
      }
      throw new IllegalStateException(e.getCause());
    } catch (TimeoutException e) {
      throw new SourceException("no answer in time", e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new SourceException("the service ends", e);
    }
  }

  @Override
  public Set<String> names() {
    return new TreeSet<>(all.keySet());
  }

  @Override
  public Optional<Set<String>> columns(String source, List<String> table) {
    try {
      // Whoever publishes waits for it, even where it rests.
      return all.get(source).source().columns(table).map(Map::keySet);
    } catch (SourceException e) {
      throw new AwayException(e.getMessage());
    }
  }

  /**
   * Reads what has no question here, for an author, who waits for it even where it rests.
   *
   * @throws Problem 503 if it does not answer
   * @throws E what the reading throws
   */
  public <T, E extends Exception> T read(String source, Source.Reading<T, E> reading) throws E {
    try {
      return all.get(source).source().read(reading);
    } catch (SourceException e) {
      throw Problem.of(
          503,
          "source-away",
          "A look-up is not possible now",
          "The database %s cannot be read just now: %s.".formatted(source, e.getMessage()));
    }
  }

  /** Returns whether a column has a value. */
  public Lookups.Presence has(SourceColumn column, Value value, boolean ignoreCase, Steps steps) {
    return steps.question(
        found -> column + ": " + said(found),
        () ->
            ask(column.source(), it -> it.has(column, value, ignoreCase))
                .map(there -> there ? Lookups.Presence.PRESENT : Lookups.Presence.ABSENT)
                .orElse(Lookups.Presence.UNKNOWN));
  }

  private static String said(Lookups.Presence found) {
    return switch (found) {
      case PRESENT -> "there";
      case ABSENT -> "not there";
      case UNKNOWN -> "no answer";
    };
  }

  /** Finds an option; the outer Optional is empty if there was no answer. */
  public Optional<Optional<Choice>> option(SourceOptions options, String value, Steps steps) {
    Optional<Optional<Choice>> found =
        steps.question(
            it -> options.value() + ": " + (it.isEmpty() ? "no answer" : "asked"),
            () -> ask(options.value().source(), it -> it.option(options, value)));
    found
        .flatMap(it -> it)
        .ifPresent(choice -> labels.put(new Row(options, value), choice.label()));
    return found;
  }

  /** Returns what people read of an option; nothing if it is not there, or nobody answered. */
  public Optional<String> label(SourceOptions options, String value) {
    Row row = new Row(options, value);
    String known = labels.getIfPresent(row);
    if (known != null) {
      return Optional.of(known);
    }
    Optional<String> found =
        ask(options.value().source(), it -> it.option(options, value))
            .flatMap(it -> it)
            .map(Choice::label);
    found.ifPresent(it -> labels.put(row, it));
    return found;
  }

  /** Returns the options that some words fit; none if nobody answered. */
  public List<Choice> search(
      SourceOptions options, String words, Predicate<Choice> offered, int most) {
    return ask(options.value().source(), it -> it.search(options, words, offered, most))
        .orElse(List.of());
  }

  /**
   * Is told that a submission needs a database that did not answer.
   *
   * @throws Problem 503 with Retry-After, unless the settings have it accepted then
   */
  public void unanswered(String source) {
    Guarded guarded = all.get(source);
    if (guarded == null || guarded.settings().unanswered() == Unanswered.REFUSE) {
      throw Problem.of(
              503,
              "source-away",
              "A look-up is not possible now",
              "What is needed to judge this could not be looked up just now. Nothing was kept;"
                  + " please send it again in a moment.")
          .header("Retry-After", RETRY_AFTER);
    }
  }

  @Override
  public void close() {
    all.values().forEach(it -> it.source().close());
  }
}
