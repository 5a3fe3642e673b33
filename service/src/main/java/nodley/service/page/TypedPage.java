package nodley.service.page;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.value.Raw;

/**
 * Makes of a page that was sent what it shows, field by field: form encoding says nothing of a box
 * that is not ticked or of what is blank, and a draft must not fill in there what stands there by
 * default.
 */
final class TypedPage {

  private TypedPage() {}

  /** The values of all controls of a page, but for secrets. */
  static Raw.Members of(Form form, boolean edits, Input input) {
    return of(form.fields(), edits ? Mode.EDIT : Mode.ADD, input.members());
  }

  private static Raw.Members of(Fields fields, Mode mode, Map<String, Raw> sent) {
    Map<String, Raw> typed = new LinkedHashMap<>();
    for (Field field : fields.onPages()) {
      Raw raw = sent.get(field.name());
      // What is only shown has no control.
      boolean isOutput =
          field.source().compute().isPresent() || field.presence().editable().isNever(mode);
      if (!field.isSecret() && (raw != null || !isOutput)) {
        typed.put(field.name(), of(field, mode, raw));
      }
    }
    return new Raw.Members(typed);
  }

  private static Raw of(Field field, Mode mode, Raw raw) {
    boolean isMany =
        field.type() == Type.CHOICES
            || field.type() == Type.FILE && field.limits().count().isLimited();
    return switch (raw) {
      case Raw.Members(Map<String, Raw> inside) when field.type() == Type.GROUP ->
          of(field.fields(), mode, inside);
      case Raw.Text _, Raw.Many _ when field.type() == Type.BOOLEAN ->
          // A box with a first value says beside it that it is not ticked.
          new Raw.Bool(raw.shown().matches("(.*, )?(true|on)"));
      case Raw.Text text when isMany -> new Raw.Many(List.of(text));
      case null -> blank(field, mode, isMany);
      default -> raw;
    };
  }

  private static Raw blank(Field field, Mode mode, boolean isMany) {
    return switch (field.type()) {
      case GROUP -> of(field.fields(), mode, Map.of());
      case ROWS -> new Raw.Many(List.of());
      case BOOLEAN -> new Raw.Bool(false);
      default -> isMany ? new Raw.Many(List.of()) : new Raw.Text("");
    };
  }
}
