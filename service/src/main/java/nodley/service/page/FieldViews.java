package nodley.service.page;

import java.math.BigDecimal;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Choice;
import nodley.core.form.Display;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Type;
import nodley.core.name.Pointer;
import nodley.core.submission.FieldError;
import nodley.core.submission.Sentences;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.caller.Caller;
import nodley.service.submission.Options;
import nodley.store.common.StoredRecord;

/**
 * Builds the field views of a page: those of the form, and those nested in groups and rows, each
 * with its value, its error and what the caller may do with it. For one page and one thread.
 */
final class FieldViews {

  private final Form form;
  private final Values whole;
  private final Optional<StoredRecord> record;
  private final Sentences words;
  private final Map<String, FieldError> errors = new LinkedHashMap<>();
  private final Options options;
  private final FileViews files;
  private final Display display;
  private final Caller caller;
  private final Optional<ButtonPress> press;

  FieldViews(
      Form form,
      Values whole,
      Optional<StoredRecord> record,
      List<FieldError> errors,
      Options options,
      FileViews files,
      Display display,
      Caller caller,
      Optional<ButtonPress> press) {
    this.files = files;
    this.press = press;
    this.form = form;
    this.words = Sentences.of(form);
    this.whole = whole;
    this.record = record;
    this.options = options;
    this.display = display;
    this.caller = caller;
    errors.forEach(error -> this.errors.put(error.pointer(), error));
  }

  List<FieldView> all() {
    return of(form.fields(), List.of(), "", Pointer.ROOT, whole);
  }

  /** The errors that no field of the page has shown. */
  List<FieldError> rest() {
    return List.copyOf(errors.values());
  }

  private List<FieldView> of(
      Fields fields, List<String> outer, String prefix, String pointer, Values values) {
    List<FieldView> views = new ArrayList<>();
    for (Field field : fields.onPages()) {
      List<String> path = new ArrayList<>(outer);
      path.add(field.name());
      views.add(
          of(
              field,
              path,
              prefix + field.name(),
              Pointer.in(pointer, field.name()),
              values.get(field.name())));
    }
    return views;
  }

  private FieldView of(Field field, List<String> path, String name, String pointer, Value value) {
    Optional<FieldError> error = Optional.ofNullable(errors.remove(pointer));
    List<FieldView> inside = List.of();
    List<FieldView.RowView> rows = List.of();
    if (field.type() == Type.GROUP) {
      Values values = value instanceof Value.Group(Values group) ? group : Values.NONE;
      inside = of(field.fields(), path, name + ".", pointer, values);
    } else if (field.type() == Type.ROWS) {
      rows = rows(field, path, name, pointer, value);
    }
    return new FieldView(
        field,
        name,
        value,
        error,
        field.type().isScalar() ? offered(field, path, value) : List.of(),
        isEditable(field),
        field.type().isScalar() ? display.of(field, value) : "",
        form.zone().orElse(ZoneId.systemDefault()),
        words,
        inside,
        field.type() == Type.FILE
            ? files.of(form, record, String.join(".", path), place(pointer), value)
            : List.of(),
        rows);
  }

  private static String place(String pointer) {
    return pointer.substring(Pointer.ROOT.length() + 1).replace('/', '.');
  }

  /** What depends is left to be decided when it is sent; what is never editable is only shown. */
  private boolean isEditable(Field field) {
    return !field.presence().editable().isNever(record.isPresent() ? Mode.EDIT : Mode.ADD);
  }

  private List<FieldView.RowView> rows(
      Field field, List<String> path, String name, String pointer, Value value) {
    List<Values> kept = value instanceof Value.Rows(List<Values> rows) ? rows : List.of();
    int min = field.limits().count().min().orElse(0);
    int max = field.limits().count().max().orElse(Integer.MAX_VALUE);
    int wanted =
        press
            .filter(it -> it.rows().equals(name))
            .map(ButtonPress::shown)
            .orElse(Math.max(1, filled(kept)));
    int shown = Math.max(kept.size(), Math.min(max, Math.max(min, wanted)));
    List<FieldView.RowView> rows = new ArrayList<>();
    for (int i = 0; i < shown; i++) {
      Values values = i < kept.size() ? kept.get(i) : Values.NONE;
      rows.add(
          new FieldView.RowView(
              Integer.toString(i + 1),
              name + "[" + i + "]",
              words.word("page.row.less", Map.of("number", number(i + 1))),
              words.word("page.row.up", Map.of("number", number(i + 1))),
              i == 0,
              values.row() == 0 ? "" : Long.toString(values.row()),
              of(field.fields(), path, name + "[" + i + "].", pointer + "/" + i, values)));
    }
    return rows;
  }

  /** The rows up to the last that is not blank: a page that is refused does not grow. */
  private static int filled(List<Values> rows) {
    int filled = rows.size();
    while (filled > 0 && rows.get(filled - 1).isBlank()) {
      filled--;
    }
    return filled;
  }

  private static Value number(int number) {
    return new Value.Number(BigDecimal.valueOf(number));
  }

  /** A referred record beyond the first few hundred is offered all the same if it is the value. */
  private List<Choice> offered(Field field, List<String> path, Value value) {
    boolean offers =
        field.refersTo().isPresent()
            || field.options().source().isPresent()
            || !field.options().choices().isEmpty();
    if (!offers) {
      return List.of();
    }
    List<Choice> offered =
        new ArrayList<>(options.of(form, new Form.Placed(path, field), "", raws(), record, caller));
    if (field.hasOptionsOnService() && offered.size() > Field.MOST_SENT) {
      offered = new ArrayList<>(offered.subList(0, Field.MOST_SENT));
    }
    boolean missing =
        (field.refersTo().isPresent() || field.options().source().isPresent())
            && value instanceof Value.Text(String id)
            && offered.stream().map(Choice::value).noneMatch(id::equals);
    if (missing) {
      offered.add(new Choice(value.shown(), display.of(field, value)));
    }
    return offered;
  }

  /** The page's values as they would be sent, for options that depend on them. */
  private Map<String, Raw> raws() {
    Map<String, Raw> raws = new LinkedHashMap<>();
    whole
        .byName()
        .forEach(
            (name, value) -> {
              boolean one = form.field(name).filter(it -> it.type().isScalar()).isPresent();
              if (one && !value.isBlank()) {
                raws.put(name, new Raw.Text(value.shown()));
              }
            });
    return raws;
  }
}
