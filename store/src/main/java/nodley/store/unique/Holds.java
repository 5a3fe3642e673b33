package nodley.store.unique;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import nodley.core.form.Form;
import nodley.core.submission.UniqueKey;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.json.JsonMapper;

/**
 * Unique values that are reserved for open pages. A hold ends when the page's submission is
 * accepted, when the page releases it, or when its time is over; it survives a restart. It prevents
 * conflicts in the usual case only: the unique index decides in the end. Thread-safe.
 */
public final class Holds {

  /** How long a value is held at most. */
  public static final Duration LONGEST = Duration.ofMinutes(10);

  private static final JsonMapper JSON = new JsonMapper();

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;
  private final int mostPerAddress;

  /** False as long as nothing is held at all, so that nobody need look. */
  private volatile boolean any;

  /**
   * Where a value is to be held.
   *
   * @param page names the open page, and is known to it alone
   * @param address where it is open
   */
  public record Holder(String page, String address) {}

  /**
   * Opens the holds of a store.
   *
   * @param mostPerAddress holds that one network address may have at once
   */
  public Holds(Database database, BatchWriter writer, Clock clock, int mostPerAddress) {
    this.mostPerAddress = mostPerAddress;
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.any = database.read(on -> Sql.number(on, "SELECT count(*) FROM nodley_holds")) > 0;
  }

  /** Returns the indexes of the keys that are held for another page. */
  public Set<Integer> against(Form form, List<UniqueKey> uniqueKeys, String page) {
    return any ? database.read(on -> against(on, form, uniqueKeys, page)) : Set.of();
  }

  /**
   * Returns the indexes of the keys that another page holds.
   *
   * @param page whose own holds do not count
   */
  public Set<Integer> against(Connection on, Form form, List<UniqueKey> uniqueKeys, String page)
      throws SQLException {
    Set<Integer> held = new TreeSet<>();
    for (int i = 0; any && i < uniqueKeys.size(); i++) {
      UniqueKey uniqueKey = uniqueKeys.get(i);
      if (!uniqueKey.rows().isEmpty()) {
        continue;
      }
      long others =
          Sql.number(
              on,
              "SELECT count(*) FROM nodley_holds WHERE form = ? AND name = ? AND value = ?"
                  + " AND page <> ? AND ends_at > ? AND ends_at <= ?",
              form.name(),
              uniqueKey.unique().name(),
              value(form, uniqueKey),
              page,
              clock.millis(),
              latest());
      if (others > 0) {
        held.add(i);
      }
    }
    return held;
  }

  /**
   * Holds unique values for a page, as far as nobody has or holds them; one for each unique, so
   * that what the page held before for it is free again. A value that the page holds already is
   * held until it was to end anyway.
   *
   * @param uniqueKeys of fields outside of rows
   * @return until when each is held, by its place; nothing for what is not
   */
  public Map<Integer, Instant> hold(Form form, List<UniqueKey> uniqueKeys, Holder holder) {
    return writer.write(
        on -> {
          any = true;
          // An earlier piece of the same commit may have found that nothing is held.
          writer.afterCommit(() -> any = true);
          sweep(on);
          Set<Integer> gone = new TreeSet<>(TakenKeys.of(on, form, uniqueKeys, Optional.empty()));
          gone.addAll(against(on, form, uniqueKeys, holder.page()));
          Map<Integer, Instant> held = new LinkedHashMap<>();
          for (int i = 0; i < uniqueKeys.size(); i++) {
            if (!gone.contains(i)) {
              int place = i;
              hold(on, form, uniqueKeys.get(i), holder).ifPresent(until -> held.put(place, until));
            }
          }
          return held;
        });
  }

  private Optional<Instant> hold(Connection on, Form form, UniqueKey uniqueKey, Holder holder)
      throws SQLException {
    String name = uniqueKey.unique().name();
    String value = value(form, uniqueKey);
    Optional<Instant> before =
        Sql.first(
            on,
            row -> Instant.ofEpochMilli(row.getLong(1)),
            "SELECT ends_at FROM nodley_holds WHERE form = ? AND name = ? AND value = ?",
            form.name(),
            name,
            value);
    if (before.isPresent()) {
      return before;
    }
    Sql.run(
        on,
        "DELETE FROM nodley_holds WHERE page = ? AND form = ? AND name = ?",
        holder.page(),
        form.name(),
        name);
    long others =
        Sql.number(on, "SELECT count(*) FROM nodley_holds WHERE address = ?", holder.address());
    if (others >= mostPerAddress) {
      return Optional.empty();
    }
    long until = latest();
    Sql.run(
        on,
        "INSERT INTO nodley_holds (form, name, value, page, address, ends_at)"
            + " VALUES (?, ?, ?, ?, ?, ?)",
        form.name(),
        name,
        value,
        holder.page(),
        holder.address(),
        until);
    return Optional.of(Instant.ofEpochMilli(until));
  }

  /** Releases all that a page holds. */
  public void release(String page) {
    if (any) {
      writer.write(
          on -> {
            end(on, page);
            return page;
          });
    }
  }

  /** The same, in the transaction of what was submitted from there. */
  public void end(Connection on, String page) throws SQLException {
    if (any && !page.isEmpty()) {
      Sql.run(on, "DELETE FROM nodley_holds WHERE page = ?", page);
      boolean others = Sql.number(on, "SELECT count(*) FROM nodley_holds") > 0;
      writer.afterCommit(() -> any = others);
    }
  }

  /** What is held now, what ends first coming first. */
  public List<Hold> list() {
    return database.read(
        on ->
            Sql.list(
                on,
                row ->
                    new Hold(
                        row.getString("form"),
                        row.getString("name"),
                        row.getString("value"),
                        row.getString("address"),
                        Instant.ofEpochMilli(row.getLong("ends_at"))),
                "SELECT form, name, value, address, ends_at FROM nodley_holds"
                    + " WHERE ends_at > ? AND ends_at <= ? ORDER BY ends_at",
                clock.millis(),
                latest()));
  }

  /** Takes away what has ended; what would end too late was made before the clock was set back. */
  private void sweep(Connection on) throws SQLException {
    Sql.run(
        on, "DELETE FROM nodley_holds WHERE ends_at <= ? OR ends_at > ?", clock.millis(), latest());
  }

  private long latest() {
    return clock.millis() + LONGEST.toMillis();
  }

  /** The very values that the index compares. */
  private static String value(Form form, UniqueKey uniqueKey) {
    List<String> values = new ArrayList<>();
    for (Object bound : TakenKeys.index(form, uniqueKey).bound(uniqueKey)) {
      values.add(bound.toString());
    }
    return JSON.writeValueAsString(values);
  }
}
