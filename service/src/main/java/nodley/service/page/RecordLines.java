package nodley.service.page;

import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
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

/** Prepares values to be read on a page, each with its label. */
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
   * The values of the fields that are stored.
   *
   * @param record whose files they are; empty if there is none yet
   * @param isInside whether a field of this name is wanted
   */
  List<Line> of(
      Form form,
      Optional<StoredRecord> record,
      Values values,
      Caller caller,
      Predicate<String> isInside) {
    return form.fields().onPages().stream()
        .filter(field -> field.isKept() && !field.isSecret() && isInside.test(field.name()))
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
