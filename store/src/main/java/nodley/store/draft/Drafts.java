package nodley.store.draft;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.Base64;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.value.FileRef;
import nodley.core.value.Raw;
import nodley.store.common.DraftLimits;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
import nodley.store.unique.Holds;
import nodley.store.upload.Uploads;
import tools.jackson.databind.json.JsonMapper;

/**
 * The drafts of all forms. What was acknowledged is on disk. The files that a draft's values name
 * are kept as long as the draft is. Thread-safe.
 */
public final class Drafts {

  private static final int ID_BYTES = 18;

  /** So many are swept in one transaction, so that others get their turn. */
  private static final int PORTION = 500;

  private static final String PAGE = "draft:";

  private static final int OF_ADDRESS = 10;

  private static final JsonMapper JSON = new JsonMapper();

  private static final String COLUMNS =
      "SELECT id, form, record_id, record_version, owner, version, entered, step, updated_at,"
          + " ends_at FROM nodley_drafts";

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;
  private final DraftLimits limits;
  private final Holds holds;
  private final SecureRandom random = new SecureRandom();

  /** Opens the drafts of a store. */
  public Drafts(
      Database database, BatchWriter writer, Clock clock, DraftLimits limits, Holds holds) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.limits = limits;
    this.holds = holds;
  }

  /** The name of the open page that a draft is, wherever it is open: its holds are under it. */
  public static String page(String draft) {
    return PAGE + draft;
  }

  /** The draft that an open page is; empty if it is none. */
  public static String ofPage(String page) {
    return page.startsWith(PAGE) ? page.substring(PAGE.length()) : "";
  }

  /**
   * Begins a draft.
   *
   * @throws DraftException.TooMany if its owner has as many as may be
   */
  public Draft begin(Draft.Begun begun) throws DraftException {
    byte[] bytes = new byte[ID_BYTES];
    random.nextBytes(bytes);
    Draft draft =
        new Draft(
            Base64.getUrlEncoder().withoutPadding().encodeToString(bytes),
            begun.form(),
            begun.record(),
            begun.recordVersion(),
            begun.owner(),
            1,
            begun.values(),
            begun.step(),
            now(),
            begun.endsAt());
    Optional<String> refused =
        writer.write(
            on -> {
              String entered = json(draft.values());
              Optional<String> tooMany = tooMany(on, draft.owner(), begun.address(), entered, true);
              if (tooMany.isEmpty()) {
                insert(on, draft, begun.address(), entered);
              }
              return tooMany;
            });
    if (refused.isPresent()) {
      throw new DraftException.TooMany(refused.get());
    }
    return draft;
  }

  /** Milliseconds are kept. */
  private Instant now() {
    return Instant.ofEpochMilli(clock.millis());
  }

  private Optional<String> tooMany(
      Connection on, String owner, String address, String entered, boolean isNew)
      throws SQLException {
    boolean full =
        !owner.isEmpty() && isFull(on, "owner", owner, 1, entered, isNew)
            || !address.isEmpty() && isFull(on, "address", address, OF_ADDRESS, entered, isNew);
    return full
        ? Optional.of("There are as many drafts already as may be; send or discard some of them.")
        : Optional.empty();
  }

  private boolean isFull(
      Connection on, String column, String whose, int times, String entered, boolean isNew)
      throws SQLException {
    String from = " FROM nodley_drafts WHERE " + column + " = ?";
    long count = Sql.number(on, "SELECT count(*)" + from, whose);
    long bytes = Sql.number(on, "SELECT coalesce(sum(length(entered)), 0)" + from, whose);
    return isNew && count >= (long) limits.perOwner() * times
        || bytes + entered.length() > limits.bytesPerOwner() * times;
  }

  private void insert(Connection on, Draft draft, String address, String entered)
      throws SQLException {
    Sql.run(
        on,
        "INSERT INTO nodley_drafts (id, form, record_id, record_version, owner, address, version,"
            + " entered, step, updated_at, ends_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        draft.id(),
        draft.form(),
        draft.record(),
        draft.recordVersion(),
        draft.owner(),
        address,
        draft.version(),
        entered,
        draft.step(),
        draft.updatedAt().toEpochMilli(),
        draft.endsAt().toEpochMilli());
    Uploads.keepForDraft(on, draft.id(), uploads(draft), draft.owner(), draft.endsAt());
  }

  private static String json(Raw.Members values) {
    return JSON.writeValueAsString(values.toJson());
  }

  private static Set<String> uploads(Draft draft) {
    Set<String> ids = new HashSet<>();
    collect(draft.values(), ids);
    return ids;
  }

  private static void collect(Raw raw, Set<String> uploads) {
    switch (raw) {
      case Raw.Text(String text) -> FileRef.sent(text).upload().ifPresent(uploads::add);
      case Raw.Many(List<Raw> items) -> items.forEach(item -> collect(item, uploads));
      case Raw.Members members -> members.members().values().forEach(it -> collect(it, uploads));
      default -> {
        // It names no file.
      }
    }
  }

  /** Returns a draft whose time is not over. */
  public Optional<Draft> find(String id) {
    return database.read(on -> find(on, id));
  }

  private Optional<Draft> find(Connection on, String id) throws SQLException {
    return Sql.first(
        on, Drafts::read, COLUMNS + " WHERE id = ? AND ends_at > ?", id, clock.millis());
  }

  private static Draft read(ResultSet row) throws SQLException {
    return new Draft(
        row.getString(1),
        row.getString(2),
        row.getString(3),
        row.getLong(4),
        row.getString(5),
        row.getLong(6),
        values(row.getString(7)),
        row.getString(8),
        Instant.ofEpochMilli(row.getLong(9)),
        Instant.ofEpochMilli(row.getLong(10)));
  }

  private static Raw.Members values(String json) {
    try {
      return new Raw.Members(
          JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.STORED).members());
    } catch (Unreadable e) {
      throw new IllegalStateException("what was written as JSON can be read", e);
    }
  }

  /** Returns the drafts of an owner, what was changed last coming first. */
  public List<Draft> of(String owner) {
    // What belongs to whoever knows its id is in nobody's list.
    return owner.isEmpty()
        ? List.of()
        : database.read(
            on ->
                Sql.list(
                    on,
                    Drafts::read,
                    COLUMNS + " WHERE owner = ? AND ends_at > ? ORDER BY updated_at DESC, id",
                    owner,
                    clock.millis()));
  }

  /**
   * Puts other values in place of a draft's.
   *
   * @param version the version that the change is of
   * @throws DraftException if somebody changed it since, it is gone, or there is no room
   */
  public Draft change(String id, long version, Raw.Members values, String step, Instant endsAt)
      throws DraftException {
    Changed changed =
        writer.write(
            on -> {
              Draft before = find(on, id).orElse(null);
              if (before == null || before.version() != version) {
                return new Changed(Optional.ofNullable(before), false, Optional.empty());
              }
              return changed(on, before, values, step, endsAt);
            });
    if (changed.isDone()) {
      return changed.draft().orElseThrow();
    }
    if (changed.refused().isPresent()) {
      throw new DraftException.TooMany(changed.refused().get());
    }
    throw changed.draft().isPresent()
        ? new DraftException.Outdated(changed.draft().get())
        : new DraftException.Gone();
  }

  private record Changed(Optional<Draft> draft, boolean isDone, Optional<String> refused) {}

  private Changed changed(
      Connection on, Draft before, Raw.Members values, String step, Instant endsAt)
      throws SQLException {
    Draft draft =
        new Draft(
            before.id(),
            before.form(),
            before.record(),
            before.recordVersion(),
            before.owner(),
            before.version() + 1,
            values,
            step,
            now(),
            endsAt);
    String entered = json(values);
    boolean isLarger = entered.length() > json(before.values()).length();
    String address =
        Sql.first(
                on,
                row -> row.getString(1),
                "SELECT address FROM nodley_drafts WHERE id = ?",
                draft.id())
            .orElse("");
    Optional<String> tooMany =
        isLarger ? tooMany(on, draft.owner(), address, entered, false) : Optional.empty();
    if (tooMany.isPresent()) {
      return new Changed(Optional.of(before), false, tooMany);
    }
    Sql.run(
        on,
        "UPDATE nodley_drafts SET version = ?, entered = ?, step = ?, updated_at = ?, ends_at = ?"
            + " WHERE id = ?",
        draft.version(),
        entered,
        step,
        draft.updatedAt().toEpochMilli(),
        endsAt.toEpochMilli(),
        draft.id());
    Uploads.keepForDraft(on, draft.id(), uploads(draft), draft.owner(), endsAt);
    return new Changed(Optional.of(draft), true, Optional.empty());
  }

  /** Removes a draft, with the files and the unique values that are set aside for it. */
  public void remove(String id) {
    writer.write(on -> end(on, id));
  }

  /** The same, in the transaction of the record that has come of it. */
  public boolean end(Connection on, String id) throws SQLException {
    if (id.isEmpty() || Sql.run(on, "DELETE FROM nodley_drafts WHERE id = ?", id) == 0) {
      return false;
    }
    Uploads.giveUpForDraft(on, id);
    holds.end(on, page(id));
    return true;
  }

  /** Hands over all drafts of an owner, with the files that are kept for them. */
  public void handOver(String from, String to) {
    if (of(from).isEmpty()) {
      return;
    }
    writer.write(
        on ->
            Sql.run(
                    on,
                    "UPDATE nodley_uploads SET owner = ?, payer = ? WHERE owner = ? AND draft <>"
                        + " ''",
                    to,
                    to,
                    from)
                + Sql.run(
                    on,
                    "UPDATE nodley_drafts SET owner = ?, address = '' WHERE owner = ?",
                    to,
                    from));
  }

  /**
   * Returns whether a form had a field of this path that was no secret, nor had one inside, and
   * whose values are still kept.
   */
  public boolean wasField(String form, String path) {
    String which = " FROM nodley_retired WHERE form = ? AND (field = ? OR substr(field, 1, ?) = ?)";
    return database.read(
        on -> {
          Object[] bound = {form, path, path.length() + 1, path + "."};
          return Sql.number(on, "SELECT count(*)" + which, bound) > 0
              && Sql.number(on, "SELECT count(*)" + which + " AND type = 'secret'", bound) == 0;
        });
  }

  /** Removes all drafts of an owner. */
  public void removeAll(String owner) {
    for (Draft draft : of(owner)) {
      remove(draft.id());
    }
  }

  /** Removes the drafts whose time is over, and returns how many they were. */
  public int sweep() {
    int all = 0;
    int swept = PORTION;
    while (swept == PORTION) {
      List<String> over =
          database.read(
              on ->
                  Sql.list(
                      on,
                      row -> row.getString(1),
                      "SELECT id FROM nodley_drafts WHERE ends_at <= ? LIMIT " + PORTION,
                      clock.millis()));
      if (!over.isEmpty()) {
        writer.write(
            on -> {
              for (String id : over) {
                end(on, id);
              }
              return over;
            });
      }
      swept = over.size();
      all += swept;
    }
    return all;
  }
}
