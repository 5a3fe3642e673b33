package nodley.core.file;

import java.util.ArrayList;
import java.util.List;
import nodley.core.form.Control;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.name.Pointer;

/**
 * A warning about a form file that is valid and can be published, but does something its author
 * will hardly have meant. Immutable. Lint, preview and publish print all of them.
 *
 * @param pointer a JSON Pointer (RFC 6901) as a fragment, such as {@code #/fields/name/pattern}
 * @param detail a sentence for the developer
 */
public record FormWarning(String pointer, String code, String detail) {

  private static final String UNSAFE_PATTERN =
      "Some values can be read by this pattern in very many ways, which would keep a browser busy"
          + " for seconds; so pages leave it to the service. Where one repeat is inside another, or"
          + " repeats follow each other, let them begin with different characters: `([a-z]+)*` is"
          + " `[a-z]*`.";

  private static final String SLIDER_WITHOUT_VALUE =
      "A slider always stands somewhere, so a page that adds cannot leave this blank: it has a box"
          + " for a number there. Give the field a default, or let it be required.";

  private static final String EDIT_UNSEEN =
      "Anyone may edit records that they may not see: who knows a record's id can write over it,"
          + " without a page and without being told what it holds. Let `edit` be as narrow as"
          + " `see`.";

  /** All that there is to say of a form. */
  public static List<FormWarning> of(Form form) {
    List<FormWarning> warnings = new ArrayList<>();
    if (form.access().edit().isAnyone() && !form.access().see().isAnyone()) {
      warnings.add(new FormWarning(Pointer.in(Pointer.ROOT, "access"), "edit-unseen", EDIT_UNSEEN));
    }
    collect(form.fields(), Pointer.in(Pointer.ROOT, "fields"), warnings);
    return warnings;
  }

  private static void collect(Fields fields, String outer, List<FormWarning> warnings) {
    for (Field field : fields) {
      String pointer = Pointer.in(outer, field.name());
      if (field.limits().pattern().filter(it -> !it.isSafeInBrowsers()).isPresent()) {
        warnings.add(
            new FormWarning(Pointer.in(pointer, "pattern"), "unsafe-pattern", UNSAFE_PATTERN));
      }
      boolean first = field.source().hasDefault();
      if (field.control() == Control.SLIDER && !first && !field.presence().required().isAlways()) {
        warnings.add(
            new FormWarning(
                Pointer.in(pointer, "control"), "slider-without-value", SLIDER_WITHOUT_VALUE));
      }
      collect(field.fields(), Pointer.in(pointer, "fields"), warnings);
    }
  }
}
