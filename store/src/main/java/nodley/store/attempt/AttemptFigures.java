package nodley.store.attempt;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.EngineSql;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * What is counted of the log of attempts. Live checks are not counted: they are logged only while
 * somebody asks for it. Thread-safe; blocks while it reads.
 */
public final class AttemptFigures {

  private static final long HOUR = Duration.ofHours(1).toMillis();

  /** Who sends nothing more for so long after a refusal has left. */
  private static final long PATIENCE = HOUR;

  /** An attempt is logged so long after it came, at the most; until then numbers may not tell. */
  private static final long SLACK = Duration.ofMinutes(1).toMillis();

  /** Attempts that are in memory at once. */
  private static final int PORTION = 1_000;

  private static final JsonMapper JSON = JsonMapper.shared();

  private final Database database;

  AttemptFigures(Database database) {
    this.database = database;
  }

  /** From a moment, included, to another, not included; milliseconds since 1970. */
  public record Period(long since, long until) {}

  /**
   * How many attempts came within an hour.
   *
   * @param hour when it begins, in milliseconds since 1970
   */
  public record Hour(String form, long hour, String verdict, long count) {}

  /**
   * Counts attempts by form, hour and verdict, in the order of time.
   *
   * @param form of one form alone; empty for all
   */
  public List<Hour> hours(Optional<String> form, Period period) {
    return database.snapshot(
        on -> {
          List<Object> bound = new ArrayList<>();
          bound.add(HOUR);
          bound.addAll(List.of(first(on, period), period.since(), period.until()));
          form.ifPresent(bound::add);
          return Sql.list(
              on,
              row ->
                  new Hour(
                      row.getString(1), row.getLong(2) * HOUR, row.getString(3), row.getLong(4)),
              "SELECT form, at / ?, verdict, count(*) FROM nodley_attempts"
                  + " WHERE number >= ? AND at >= ? AND at < ? AND mode <> 'check'"
                  + (form.isPresent() ? " AND form = ?" : "")
                  + " GROUP BY 1, 2, 3 ORDER BY 2, 1, 3",
              bound.toArray());
        });
  }

  /**
   * How long submissions of an hour took, from their first byte to the answer.
   *
   * @param hour when it begins, in milliseconds since 1970
   * @param medianMicros half of them took no longer, in microseconds
   * @param p99Micros of a hundred, one took longer, in microseconds
   */
  public record Latency(long hour, long count, long medianMicros, long p99Micros) {}

  /** Measures submissions of all forms by the hour, in the order of time. */
  public List<Latency> latencies(Period period) {
    return database.snapshot(
        on ->
            Sql.list(
                on,
                row ->
                    new Latency(
                        row.getLong(1) * HOUR, row.getLong(2), row.getLong(3), row.getLong(4)),
                "SELECT hour, count(*), min(micros) FILTER (WHERE 2 * place >= many),"
                    + " min(micros) FILTER (WHERE 100 * place >= 99 * many)"
                    + " FROM (SELECT at / ? AS hour, micros,"
                    + " row_number() OVER (PARTITION BY at / ? ORDER BY micros) AS place,"
                    + " count(*) OVER (PARTITION BY at / ?) AS many FROM nodley_attempts"
                    + " WHERE number >= ? AND at >= ? AND at < ? AND mode <> 'check')"
                    + " GROUP BY hour ORDER BY hour",
                HOUR,
                HOUR,
                HOUR,
                first(on, period),
                period.since(),
                period.until()));
  }

  /**
   * Numbers go up as time does, so that the first one of a period is found by halving: no number
   * before it need be read.
   */
  private static long first(Connection on, Period period) throws SQLException {
    long low = 0;
    long high = Sql.number(on, "SELECT coalesce(max(number), 0) FROM nodley_attempts") + 1;
    while (low < high) {
      long middle = low + (high - low) / 2;
      long at =
          Sql.number(
              on,
              "SELECT coalesce((SELECT at FROM nodley_attempts WHERE number >= ?"
                  + " ORDER BY number LIMIT 1), ?)",
              middle,
              Long.MAX_VALUE);
      if (at < period.since() - SLACK) {
        low = middle + 1;
      } else {
        high = middle;
      }
    }
    return low;
  }

  /** How often a code was told at a field. */
  public record CodeCount(String code, long count) {}

  /**
   * How often a field was refused.
   *
   * @param field dotted path without the places of rows; empty for the form as a whole
   * @param refused attempts in which it had an error
   * @param mended how many times whoever met that got the form accepted within an hour
   * @param codes the codes that were told, the most frequent first
   */
  public record FieldStruggle(String field, long refused, long mended, List<CodeCount> codes) {}

  /**
   * Where people struggle with a form. Who sends is told by name, else by address.
   *
   * @param accepted attempts that were accepted
   * @param refused attempts that were refused
   * @param failed attempts that came to no verdict
   * @param struggled how many times somebody was refused, until accepted or gone
   * @param left how many of these were not accepted within an hour of the last refusal
   * @param medianSeconds from the first refusal to the acceptance, of those who were accepted;
   *     empty if nobody was
   * @param fields the most refused first
   */
  public record Struggles(
      long accepted,
      long refused,
      long failed,
      long struggled,
      long left,
      Optional<Long> medianSeconds,
      List<FieldStruggle> fields) {

    /** Returns the same without some fields. */
    public Struggles without(Predicate<String> hidden) {
      return new Struggles(
          accepted,
          refused,
          failed,
          struggled,
          left,
          medianSeconds,
          fields.stream().filter(it -> !hidden.test(it.field())).toList());
    }
  }

  /** Finds where people struggle with a form, from its attempts within a period. */
  public Struggles struggles(String form, Period period) {
    return database.snapshot(
        on -> {
          var counted = new Counted();
          Sql.portions(
              on,
              AttemptFigures::read,
              PORTION,
              some -> {
                some.forEach(counted::take);
                return true;
              },
              "SELECT at, verdict, errors, coalesce("
                  + EngineSql.member("account", "by")
                  + ", ''), coalesce("
                  + EngineSql.member("account", "from")
                  + ", '') FROM nodley_attempts"
                  + " WHERE form = ? AND number >= ? AND at >= ? AND at < ? AND mode <> 'check'"
                  // A refused one may be logged after an accepted one that came later.
                  + " ORDER BY at, number",
              form,
              first(on, period),
              period.since(),
              period.until());
          return counted.told();
        });
  }

  private record Sent(long at, String verdict, String errors, String sender) {}

  private static Sent read(ResultSet row) throws SQLException {
    String by = row.getString(4);
    return new Sent(
        row.getLong(1),
        row.getString(2),
        row.getString(3),
        by.isEmpty() ? "from " + row.getString(5) : "by " + by);
  }

  /** Somebody who was refused, and was not accepted since. */
  private static final class Struggle {
    private final long begun;
    private long last;
    private final Set<String> fields = new LinkedHashSet<>();

    Struggle(long begun) {
      this.begun = begun;
    }
  }

  /** What has been counted of one field. */
  private static final class Field {
    private long refused;
    private long mended;
    private final Map<String, Long> codes = new TreeMap<>();
  }

  /** Goes over the attempts of a form in the order in which they came. */
  private static final class Counted {
    private final Map<String, Long> verdicts = new HashMap<>();
    private final Map<String, Field> fields = new LinkedHashMap<>();
    private final Map<String, Struggle> struggling = new HashMap<>();
    private final List<Long> seconds = new ArrayList<>();
    private long struggled;

    void take(Sent sent) {
      verdicts.merge(sent.verdict(), 1L, Long::sum);
      Struggle before = struggling.get(sent.sender());
      if (before != null && sent.at() - before.last > PATIENCE) {
        struggling.remove(sent.sender());
        before = null;
      }
      if (sent.verdict().equals("refused")) {
        refused(sent, before);
      } else if (sent.verdict().equals("accepted") && before != null) {
        struggling.remove(sent.sender());
        seconds.add((sent.at() - before.begun) / 1_000);
        before.fields.forEach(it -> fields.get(it).mended++);
      }
    }

    private void refused(Sent sent, Struggle before) {
      Struggle struggle = before == null ? new Struggle(sent.at()) : before;
      if (before == null) {
        struggled++;
        struggling.put(sent.sender(), struggle);
      }
      struggle.last = sent.at();
      Set<String> here = new LinkedHashSet<>();
      for (JsonNode error : JSON.readTree(sent.errors())) {
        String path = path(error.path("pointer").asString(""));
        Field field = fields.computeIfAbsent(path, _ -> new Field());
        field.codes.merge(error.path("code").asString(""), 1L, Long::sum);
        here.add(path);
      }
      here.forEach(it -> fields.get(it).refused++);
      struggle.fields.addAll(here);
    }

    private static String path(String pointer) {
      return pointer.replaceFirst("^#/?", "").replaceAll("/[0-9]+(?=/|$)", "").replace('/', '.');
    }

    private long of(String verdict) {
      return verdicts.getOrDefault(verdict, 0L);
    }

    Struggles told() {
      Collections.sort(seconds);
      return new Struggles(
          of("accepted"),
          of("refused"),
          of("failed"),
          struggled,
          struggled - seconds.size(),
          seconds.isEmpty() ? Optional.empty() : Optional.of(seconds.get(seconds.size() / 2)),
          fields.entrySet().stream()
              .map(it -> told(it.getKey(), it.getValue()))
              .sorted(
                  Comparator.comparingLong(FieldStruggle::refused)
                      .reversed()
                      .thenComparing(FieldStruggle::field))
              .toList());
    }

    private static FieldStruggle told(String name, Field field) {
      return new FieldStruggle(
          name,
          field.refused,
          field.mended,
          field.codes.entrySet().stream()
              .map(it -> new CodeCount(it.getKey(), it.getValue()))
              .sorted(Comparator.comparingLong(CodeCount::count).reversed())
              .toList());
    }
  }
}
