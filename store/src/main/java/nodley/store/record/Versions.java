package nodley.store.record;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Function;
import nodley.core.form.Form;
import nodley.core.value.Raw;
import nodley.store.common.StoredRecord;
import nodley.store.schema.Rename;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The versions of records. An edit stores the state that it replaces, in its transaction; an add
 * stores nothing here, since the record's own table has the latest.
 */
public final class Versions {

  private static final JsonMapper JSON = new JsonMapper();

  private Versions() {}

  /**
   * Keeps what an edit replaces, with the values of fields that are retired: they are there yet.
   */
  static void keep(Connection on, Form form, StoredRecord replaced) throws SQLException {
    StoredRecord whole = RetiredValues.read(on, form, replaced);
    Sql.run(
        on,
        "INSERT INTO nodley_versions"
            + " (form, record_id, version, revision, made_at, made_by, record)"
            + " VALUES (?, ?, ?, ?, ?, ?, ?)",
        form.name(),
        replaced.id(),
        replaced.version(),
        replaced.revision(),
        replaced.updatedAt(),
        replaced.updatedBy(),
        JSON.writeValueAsString(Raw.withRows(whole.values()).toJson()));
  }

  /** A record takes its versions with it. */
  static void remove(Connection on, String form, String id) throws SQLException {
    Sql.run(on, "DELETE FROM nodley_versions WHERE form = ? AND record_id = ?", form, id);
  }

  /** One of them, which is the record as it is again. */
  static void drop(Connection on, Form form, String id, long version) throws SQLException {
    Sql.run(
        on,
        "DELETE FROM nodley_versions WHERE form = ? AND record_id = ? AND version = ?",
        form.name(),
        id,
        version);
  }

  /** Those below a number, the latest first; the latest of all is the record as it is. */
  static List<Version> of(Connection on, Form form, StoredRecord record, long before, int limit)
      throws SQLException {
    List<Version> versions = new ArrayList<>();
    if (record.version() < before) {
      versions.add(current(RetiredValues.read(on, form, record)));
    }
    versions.addAll(kept(on, form.name(), record.id(), before, limit - versions.size()));
    return versions;
  }

  /**
   * Those that are kept here below a number, the latest first; of a removed record these are all.
   */
  static List<Version> kept(Connection on, String form, String id, long before, int limit)
      throws SQLException {
    VersionReader values = new VersionReader();
    return Sql.list(
        on,
        row -> read(row, values),
        "SELECT version, revision, made_at, made_by, record FROM nodley_versions"
            + " WHERE form = ? AND record_id = ? AND version < ?"
            + " ORDER BY version DESC LIMIT ?",
        form,
        id,
        before,
        limit);
  }

  /** Puts what is kept of a field under its new name. */
  public static void rename(Connection on, String form, Rename rename) throws SQLException {
    String name = rename.to().getLast();
    change(on, form, rename.from(), (holder, was) -> holder.set(name, holder.remove(was)));
  }

  /** Leaves out what is kept of a field in the versions of one record. */
  static void forget(Connection on, String form, String id, List<String> path) throws SQLException {
    change(on, path, ObjectNode::remove, " WHERE form = ? AND record_id = ?", form, id);
  }

  /** Leaves out what is kept of a field. */
  public static void forget(Connection on, String form, List<String> path) throws SQLException {
    change(on, form, path, ObjectNode::remove);
  }

  /**
   * Brings what is kept of a field to another type; what cannot be one stays as it is.
   *
   * @param converted a value of the new type
   */
  public static void convert(
      Connection on, String form, List<String> path, Function<JsonNode, Optional<Object>> converted)
      throws SQLException {
    change(
        on,
        form,
        path,
        (holder, name) ->
            converted
                .apply(holder.get(name))
                .ifPresent(value -> holder.set(name, JSON.valueToTree(value))));
  }

  private static void change(
      Connection on, String form, List<String> path, BiConsumer<ObjectNode, String> change)
      throws SQLException {
    change(on, path, change, " WHERE form = ?", form);
  }

  private static void change(
      Connection on,
      List<String> path,
      BiConsumer<ObjectNode, String> change,
      String which,
      Object... bound)
      throws SQLException {
    Sql.runWith(
        on,
        record -> {
          JsonNode tree = JSON.readTree(record.toString());
          change(tree, path, change);
          return tree.toString();
        },
        "UPDATE nodley_versions SET record = " + Sql.FUNCTION + "(record)" + which,
        bound);
  }

  /** Changes the member that a path leads to, in each of the rows on the way. */
  private static void change(
      JsonNode tree, List<String> path, BiConsumer<ObjectNode, String> change) {
    if (tree instanceof ArrayNode rows) {
      rows.forEach(row -> change(row, path, change));
    } else if (tree instanceof ObjectNode holder && holder.has(path.getFirst())) {
      if (path.size() == 1) {
        change.accept(holder, path.getFirst());
      } else {
        change(holder.get(path.getFirst()), path.subList(1, path.size()), change);
      }
    }
  }

  private static Version current(StoredRecord record) {
    Raw.Members kept = Raw.withRows(record.values());
    return new Version(
        record.version(),
        record.revision(),
        record.updatedAt(),
        record.updatedBy(),
        kept,
        kept.withoutRows());
  }

  private static Version read(ResultSet row, VersionReader values) throws SQLException {
    values.read(row.getString("record"));
    return new Version(
        row.getLong("version"),
        row.getInt("revision"),
        row.getString("made_at"),
        row.getString("made_by"),
        values.kept(),
        values.withoutRows());
  }
}
