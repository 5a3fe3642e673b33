package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import java.time.DateTimeException;
import java.time.OffsetDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import nodley.core.file.TextsFile;
import nodley.core.input.FormInput;
import nodley.core.input.Unreadable;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;
import nodley.store.sqlite.SearchWords;

/**
 * Parses the query of a request. Unknown parameters are errors. Uses its own parser, because the
 * container's would also consume a form-encoded body.
 */
public final class Query {

  /** The request attribute that has what was parsed, for several ask on the way of a request. */
  private static final String PARSED = Query.class.getName();

  private final Map<String, List<String>> pairs;

  /** A query as it was sent, and what it says. */
  private record Parsed(String query, Map<String, List<String>> pairs) {}

  private Query(Map<String, List<String>> pairs) {
    this.pairs = pairs;
  }

  /**
   * Reads the query.
   *
   * @param known the names that mean something here; {@code lang} does everywhere, and names that
   *     begin with {@code _} nowhere
   * @throws Problem 400 for any other name, or a name that stands twice
   */
  public static Query of(HttpServletRequest request, String... known) {
    Query query = read(request, Arrays.asList(known));
    for (String name : known) {
      query.once(name);
    }
    return query;
  }

  /** The values of the one name that means something here, as often as it stands there. */
  public static List<String> many(HttpServletRequest request, String name) {
    return read(request, List.of(name)).pairs.getOrDefault(name, List.of());
  }

  /**
   * The first value of a parameter, whatever else the query has: for what is to be known before the
   * whole of it is read by {@link #of}.
   *
   * @throws Problem 400 for a query that cannot be read
   */
  public static Optional<String> first(HttpServletRequest request, String name) {
    return new Query(pairs(request)).get(name);
  }

  private static Map<String, List<String>> pairs(HttpServletRequest request) {
    String sent = request.getQueryString();
    if (sent == null) {
      return Map.of();
    }
    if (request.getAttribute(PARSED) instanceof Parsed(String query, var pairs)
        && query.equals(sent)) {
      return pairs;
    }
    try {
      Parsed parsed = new Parsed(sent, FormInput.query(sent));
      request.setAttribute(PARSED, parsed);
      return parsed.pairs();
    } catch (Unreadable e) {
      throw Problem.badQuery(e.getMessage().replace("The body", "The query"));
    }
  }

  private static Query read(HttpServletRequest request, List<String> names) {
    Query query = new Query(pairs(request));
    query.once("lang");
    query
        .get("lang")
        .filter(it -> TextsFile.language(it).isEmpty())
        .ifPresent(
            it -> {
              throw Problem.badQuery(
                  "\"lang\" is a language tag such as de or pt-BR, not \""
                      + Wellformed.of(it)
                      + "\".");
            });
    for (String name : query.pairs.keySet()) {
      if (!names.contains(name) && !name.equals("lang") && !name.startsWith("_")) {
        throw Problem.badQuery(
            "Unknown query parameter \""
                + Wellformed.of(name)
                + "\"."
                + Near.to(name, names).map(near -> " Did you mean \"" + near + "\"?").orElse("")
                + (names.isEmpty()
                    ? " None is allowed here."
                    : " Allowed: " + String.join(", ", new TreeSet<>(names)) + "."));
      }
    }
    return query;
  }

  private void once(String name) {
    if (pairs.getOrDefault(name, List.of()).size() > 1) {
      throw Problem.badQuery("\"" + name + "\" is given more than once.");
    }
  }

  /** Returns the value of a parameter; empty if the query does not have it. */
  public Optional<String> get(String name) {
    return Optional.ofNullable(pairs.get(name)).map(List::getFirst);
  }

  /** A whole number within bounds. */
  public int number(String name, int otherwise, int max) {
    return get(name)
        .map(
            text -> {
              boolean right = text.matches("[0-9]{1,6}") && !text.matches("0+");
              if (!right || Integer.parseInt(text) > max) {
                throw Problem.badQuery("\"" + name + "\" is a whole number from 1 to " + max + ".");
              }
              return Integer.valueOf(text);
            })
        .orElse(otherwise);
  }

  /** A place in a log, as the page before gave it; beyond all where none is asked for. */
  public long place(String name) {
    return get(name)
        .map(
            text -> {
              if (!text.matches("[0-9]{1,18}")) {
                throw Problem.badQuery("\"" + name + "\" is what the page before gave.");
              }
              return Long.valueOf(text);
            })
        .orElse(Long.MAX_VALUE);
  }

  /** A moment, in milliseconds since 1970. */
  public Optional<Long> moment(String name) {
    return get(name)
        .map(
            text -> {
              try {
                return OffsetDateTime.parse(text).toInstant().toEpochMilli();
              } catch (DateTimeException | ArithmeticException e) {
                throw Problem.badQuery(
                    "\""
                        + name
                        + "\" is a moment such as 2026-11-23T08:00:00Z (RFC 3339), not \""
                        + Wellformed.of(text)
                        + "\".");
              }
            });
  }

  /**
   * The words to look for, {@code q}: a text as a field could hold it; empty if none are.
   *
   * @throws Problem 400 for more than can be looked for at once
   */
  public String words() {
    String words = get("q").orElse("");
    if (!Wellformed.is(words)) {
      throw Problem.badQuery("\"q\" holds NUL or half of a character, which no text has.");
    }
    if (words.length() > SearchWords.MAX_LENGTH) {
      throw Problem.badQuery(
          "\"q\" has up to " + SearchWords.MAX_LENGTH + " characters, not " + words.length() + ".");
    }
    int count = SearchWords.of(words).size();
    if (count > SearchWords.MAX) {
      throw Problem.badQuery(
          "\"q\" looks for up to " + SearchWords.MAX + " different words, not " + count + ".");
    }
    return words;
  }
}
