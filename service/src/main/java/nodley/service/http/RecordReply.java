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
import nodley.service.upload.FileLinks;
import nodley.store.common.StoredRecord;

/**
 * A record as docs/wire.md has it, for one caller: fields that the caller may not see are left out,
 * and so are secrets.
 *
 * @param called how the record is named in a sentence; left out, with values and rows, for a caller
 *     who may edit it and may not see it
 * @param createdAt RFC 3339, UTC, to the millisecond; likewise {@code updatedAt}
 * @param createdBy left out, with {@code updatedBy} and {@code owner}, for a caller who may not
 *     edit it
 * @param confirmedAt when its address was confirmed; left out until then
 * @param values as {@link FileLinks#json} has them
 * @param rows which stored row each row is, by its pointer; left out if there are none
 * @param after what follows an add or an edit; left out otherwise
 */
public record RecordReply(
    String id,
    String form,
    int revision,
    long version,
    Optional<String> called,
    String createdAt,
    String updatedAt,
    Optional<String> createdBy,
    Optional<String> updatedBy,
    Optional<String> owner,
    Optional<String> confirmedAt,
    Optional<Object> values,
    Optional<Map<String, Long>> rows,
    Optional<Next> after) {

  /**
   * What follows an add or an edit.
   *
   * @param go the address to go to
   * @param say the sentence to show there
   */
  public record Next(String go, String say) {}

  /** Returns a record with the values that the caller may read. */
  public static RecordReply of(Form form, StoredRecord record, Caller caller, Display display) {
    return of(form, record, caller, display, true, Optional.empty());
  }

  /** Returns a record that was put back, with its values for a caller who may see it. */
  public static RecordReply putBack(
      Form form, StoredRecord record, Caller caller, Display display) {
    boolean maySee = Authorization.may(caller, form, Access::see, record);
    return of(form, record, caller, display, maySee, Optional.empty());
  }

  private static RecordReply of(
      Form form,
      StoredRecord record,
      Caller caller,
      Display display,
      boolean told,
      Optional<Next> after) {
    boolean mayEdit = Authorization.may(caller, form, Access::edit, record);
    Values values = told ? Authorization.told(caller, form.fields(), record.values()) : Values.NONE;
    Map<String, Long> rows = new LinkedHashMap<>();
    collectRows(values, Pointer.ROOT, rows);
    return new RecordReply(
        record.id(),
        form.name(),
        record.revision(),
        record.version(),
        told ? Optional.of(form.called(record.values(), display)) : Optional.empty(),
        record.createdAt(),
        record.updatedAt(),
        only(mayEdit, record.createdBy()),
        only(mayEdit, record.updatedBy()),
        only(mayEdit, record.owner()),
        only(told && !record.confirmedAt().isEmpty(), record.confirmedAt()),
        told ? Optional.of(FileLinks.json(form, record.id(), values)) : Optional.empty(),
        rows.isEmpty() ? Optional.empty() : Optional.of(rows),
        after);
  }

  private static Optional<String> only(boolean told, String text) {
    return told ? Optional.of(text) : Optional.empty();
  }

  /** Which kept row each row is, by its pointer: an edit may say so again, by {@code _row}. */
  private static void collectRows(Values values, String outer, Map<String, Long> rows) {
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
  public static RecordReply accepted(
      Form form, Mode mode, StoredRecord record, Caller caller, Display display) {
    After after = form.after(mode);
    boolean maySee = Authorization.may(caller, form, Access::see, record);
    // What somebody adds they know; what they edit unseen, or nobody keeps, is not told back.
    boolean told = (mode == Mode.ADD || maySee) && !form.isKeepingNone();
    Next next =
        new Next(
            Afterwards.address(form, mode, record, maySee),
            display.fill(after.say(), form, told ? record.values() : Values.NONE));
    return of(form, record, caller, display, told, Optional.of(next));
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
        verdict.decided(),
        verdict.proposals());
  }

  /** Returns the entity tag of a record: its version in quotes (RFC 9110, section 8.8.3). */
  public static String tag(StoredRecord record) {
    return "\"" + record.version() + "\"";
  }
}
