package nodley.service.http;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Access;
import nodley.core.form.After;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.name.Pointer;
import nodley.core.submission.Answer;
import nodley.core.submission.Verdict;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.problem.Problem;
import nodley.service.submission.Afterwards;
import nodley.store.common.StoredRecord;

/**
 * Writes records and verdicts as JSON, as docs/wire.md has them, for one caller: fields that the
 * caller may not see are left out, and so are secrets. Stateless.
 */
public final class RecordJson {

  private RecordJson() {}

  /** Returns a record as JSON, with the values that the caller may read. */
  public static Map<String, Object> of(
      Form form, StoredRecord record, Caller caller, Display display) {
    Values values = Authorization.told(caller, form.fields(), record.values());
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("id", record.id());
    json.put("form", form.name());
    json.put("revision", record.revision());
    json.put("version", record.version());
    json.put("called", form.called(record.values(), display));
    json.put("createdAt", record.createdAt());
    json.put("updatedAt", record.updatedAt());
    if (Authorization.may(caller, form, Access::edit, record)) {
      json.put("createdBy", record.createdBy());
      json.put("updatedBy", record.updatedBy());
      json.put("owner", record.owner());
    }
    json.put("values", values.toJson());
    Map<String, Object> rows = new LinkedHashMap<>();
    collectRows(values, Pointer.ROOT, rows);
    if (!rows.isEmpty()) {
      json.put("rows", rows);
    }
    return json;
  }

  /** Which kept row each row is, by its pointer: an edit may say so again, by {@code _row}. */
  private static void collectRows(Values values, String outer, Map<String, Object> rows) {
    values
        .byName()
        .forEach(
            (name, value) -> {
              String pointer = Pointer.in(outer, name);
              switch (value) {
                case Value.Group(Values inside) -> collectRows(inside, pointer, rows);
                case Value.Rows(List<Values> all) -> {
                  for (int i = 0; i < all.size(); i++) {
                    rows.put(pointer + "/" + i, all.get(i).row());
                    collectRows(all.get(i), pointer + "/" + i, rows);
                  }
                }
                default -> {
                  // It has no rows inside.
                }
              }
            });
  }

  /** The record with what follows its acceptance. */
  public static Map<String, Object> accepted(
      Form form, Mode mode, StoredRecord record, Caller caller, Display display) {
    After after = form.after(mode);
    boolean maySee = Authorization.may(caller, form, Access::see, record);
    // What somebody adds they know; what they edit unseen is not told back.
    boolean told = mode == Mode.ADD || maySee;
    Map<String, Object> json = of(form, record, caller, display);
    if (!told) {
      json.keySet().removeAll(List.of("values", "rows", "called"));
    }
    Map<String, Object> next = new LinkedHashMap<>();
    next.put("go", Afterwards.address(form, mode, record, maySee));
    next.put("say", display.fill(after.say(), form, told ? record.values() : Values.NONE));
    json.put("after", next);
    return json;
  }

  /**
   * The record that was kept; a refusal is a problem.
   *
   * @param before the record that was to be edited; empty for an add
   */
  public static StoredRecord accepted(
      Form form, Optional<StoredRecord> before, Caller caller, Answer<StoredRecord> answer) {
    return switch (answer) {
      case Answer.Accepted<StoredRecord>(StoredRecord record) -> record;
      case Answer.Refused<StoredRecord>(Verdict verdict) ->
          throw Problem.refused(told(form, before, caller, verdict));
    };
  }

  /**
   * A verdict as a caller is told it.
   *
   * @param before the record that is to be edited; empty for an add
   */
  public static Verdict told(
      Form form, Optional<StoredRecord> before, Caller caller, Verdict verdict) {
    boolean told = before.map(it -> Authorization.may(caller, form, Access::see, it)).orElse(true);
    return new Verdict(
        told ? Authorization.told(caller, form.fields(), verdict.values()) : Values.NONE,
        verdict.errors(),
        verdict.unasked(),
        verdict.decided());
  }

  /** Returns the entity tag of a record: its version in quotes (RFC 9110, section 8.8.3). */
  public static String tag(StoredRecord record) {
    return "\"" + record.version() + "\"";
  }
}
