package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Checking;
import nodley.core.form.Control;
import nodley.core.form.Display;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.submission.Context;
import nodley.core.submission.FieldError;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.core.submission.Verdict;
import nodley.core.value.Raw;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.RecordReader;
import nodley.store.schema.Rename;

/**
 * Finds stored records that violate a stricter revision. Validates each as an edit that changes
 * nothing; an error that the previous revision gives too (same field, same code) does not count.
 * Uniqueness is left to the indexes. Costs one validation per record, two for a record with errors,
 * on the writer thread: meanwhile nothing is saved.
 */
final class RecordRevalidation {

  private final FormMigration migration;
  private final Connection on;
  private final Map<String, PublishedForm> forms;
  private final Context context = Context.add(Clock.systemUTC());

  /** What a field is kept from by a rule, and the records where it is. */
  private static final class Violation {
    private final String example;
    private final List<String> records = new ArrayList<>();
    private long count;

    Violation(String example) {
      this.example = example;
    }
  }

  /** Goes over the records of a form that are to be looked at. */
  interface Some {
    void each(Connection on, Form form, RecordReader.Each each) throws SQLException;
  }

  /** All that are kept. */
  static final Some ALL = RecordReader::each;

  /** A kind of violation: a field, and the code of its error. */
  private record Kind(String field, String code) {}

  /**
   * Of one form.
   *
   * @param forms all there are, to reach through references
   */
  RecordRevalidation(FormMigration migration, Map<String, PublishedForm> forms) {
    this.migration = migration;
    this.on = migration.on();
    this.forms = forms;
  }

  void find(Form earlier, Some records) throws SQLException {
    Form form = migration.form();
    if (rules(form).equals(rules(earlier))) {
      return;
    }
    Map<Kind, Violation> found = new LinkedHashMap<>();
    records.each(on, form, record -> judge(record, earlier, found));
    found.forEach(
        (kind, violation) ->
            migration.fallsShort(
                new StoreException.Objection(
                    form.name(),
                    kind.field(),
                    "Stored records violate the new rules; first error: \""
                        + violation.example
                        + "\"",
                    violation.records,
                    violation.count)));
  }

  private void judge(StoredRecord record, Form earlier, Map<Kind, Violation> found) {
    Map<Kind, FieldError> now = errors(migration.form(), record);
    if (now.isEmpty()) {
      return;
    }
    Set<Kind> before = new HashSet<>();
    for (Kind kind : errors(earlier, record).keySet()) {
      List<String> path = List.of(kind.field().split("\\."));
      for (Rename rename : migration.renames()) {
        path = rename.forth(path);
      }
      before.add(new Kind(String.join(".", path), kind.code()));
    }
    now.forEach(
        (kind, error) -> {
          if (!before.contains(kind)) {
            Violation violation = found.computeIfAbsent(kind, _ -> new Violation(error.detail()));
            violation.count++;
            if (violation.records.size() < FormMigration.MAX_NAMED) {
              violation.records.add(record.id());
            }
          }
        });
  }

  private Map<Kind, FieldError> errors(Form form, StoredRecord record) {
    Map<Kind, FieldError> errors = new LinkedHashMap<>();
    Input input = new Input(Raw.of(record.values()).members(), Input.Encoding.JSON);
    Verdict verdict =
        Submission.check(form, input, context.editing(record.id(), record.values()), lookups());
    for (FieldError error : verdict.errors()) {
      String path = error.pointer().replaceFirst("^#/?", "").replaceAll("/[0-9]+(?=/|$)", "");
      String dotted = path.replace('/', '.');
      Optional<Field> field = form.fields().find(List.of(dotted.split("\\.")));
      // What steers the form and is not kept is missing from every record.
      boolean counts =
          !error.code().equals("unknown-field") && field.map(Field::isKept).orElse(true);
      if (counts) {
        errors.putIfAbsent(new Kind(dotted, error.code()), error);
      }
    }
    return errors;
  }

  /** What is in the tables: the indexes have answered what is unique. */
  private Lookups lookups() {
    return new Lookups() {
      @Override
      public Optional<Set<Integer>> taken(
          Form form, List<UniqueKey> keys, Optional<String> except) {
        return Optional.of(Set.of());
      }

      @Override
      public Optional<Optional<Display.Found>> record(String name, String id) {
        return Optional.of(find(forms.get(name).form(), id));
      }
    };
  }

  private Optional<Display.Found> find(Form form, String id) {
    try {
      return RecordReader.find(on, form, id).map(it -> new Display.Found(form, it.values()));
    } catch (SQLException e) {
      throw new StoreException.Unavailable("The store cannot be read now.", e);
    }
  }

  /** All of a form that a kept record can be judged by. */
  private static List<Object> rules(Form form) {
    return List.of(bare(form.fields()), form.rules(), form.zone());
  }

  /** Fields without what is for the eye, and without what only matters to new records. */
  private static List<Field> bare(Fields fields) {
    return fields.stream().map(RecordRevalidation::bare).toList();
  }

  private static Field bare(Field field) {
    Field.Source source = field.source();
    return field.toBuilder()
        .control(Control.TEXT)
        .wording(new Field.Wording("", "", "", "", ""))
        .source(
            new Field.Source(
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                source.compute(),
                source.kept(),
                false,
                false,
                Optional.empty()))
        .checking(Checking.LEAVING)
        .unique(Optional.empty())
        .say(Map.of())
        .fields(new Fields(bare(field.fields())))
        .build();
  }
}
