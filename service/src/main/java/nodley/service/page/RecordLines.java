package nodley.service.page;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Control;
import nodley.core.form.Display;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.text.Notation;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.caller.Caller;
import nodley.service.submission.Displays;
import nodley.store.common.StoredRecord;
import org.springframework.stereotype.Component;

/**
 * Prepares values to be read on a page, each with its label: numbers and dates in the notation of
 * the form's language, options by their labels, references by what their records are called. That
 * may read other records, as far as the caller may see them. Thread-safe.
 */
@Component
class RecordLines {

  private final Displays displays;
  private final FileViews files;

  RecordLines(Displays displays, FileViews files) {
    this.displays = displays;
    this.files = files;
  }

  /**
   * A value.
   *
   * @param number true if it is read by its digits
   * @param wide true if it takes the width of its card
   * @param files those of a field of files, in place of the text
   */
  record Line(String label, String text, boolean number, boolean wide, List<FileView> files) {}

  /**
   * The values of some fields, as far as they are stored and pages show them.
   *
   * @param record whose files they are; empty if there is none yet
   * @param names of the fields, in the order of the lines
   */
  List<Line> of(
      Form form, Optional<StoredRecord> record, Values values, Caller caller, List<String> names) {
    Map<String, Field> shown = new HashMap<>();
    form.fields().onPages().forEach(field -> shown.put(field.name(), field));
    return names.stream()
        .map(shown::get)
        .filter(field -> field != null && field.isKept() && !field.isSecret())
        .map(field -> of(form, field, record, values, caller))
        .toList();
  }

  /** The value of one field. */
  Line of(Form form, Field field, Optional<StoredRecord> record, Values values, Caller caller) {
    Value value = values.get(field.name());
    String text = display(form, caller).of(field, value);
    String unit = field.wording().unit();
    List<FileView> all = files.of(form, record, field.name(), field.name(), value);
    return new Line(
        field.label(),
        !all.isEmpty() ? "" : text.isEmpty() || unit.isEmpty() ? text : text + " " + unit,
        field.type().isNumber(),
        field.type() == Type.ROWS || field.control() == Control.TEXTAREA,
        all);
  }

  /** What a person reads is in the language's own way. */
  Display display(Form form, Caller caller) {
    return displays.of(caller).in(Notation.of(form.language()));
  }
}
