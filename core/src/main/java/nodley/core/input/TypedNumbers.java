package nodley.core.input;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.text.Notation;
import nodley.core.value.Raw;

/**
 * Converts numbers that were typed on a page in the notation of its language into standard form.
 * Programs send the standard form only.
 */
public final class TypedNumbers {

  private final Notation notation;

  private TypedNumbers(Notation notation) {
    this.notation = notation;
  }

  /** The same submission with its numbers in standard form; what is no number stays as it is. */
  public static Input standard(Input input, Fields fields, Notation notation) {
    return new Input(new TypedNumbers(notation).members(input.members(), fields), input.encoding());
  }

  private Map<String, Raw> members(Map<String, Raw> members, Fields fields) {
    Map<String, Raw> standard = new LinkedHashMap<>(members);
    for (Field field : fields) {
      standard.computeIfPresent(field.name(), (_, raw) -> of(field, raw));
    }
    return standard;
  }

  private Raw of(Field field, Raw raw) {
    return switch (raw) {
      case Raw.Text(String text) when field.type().isNumber() ->
          new Raw.Text(notation.standard(text));
      case Raw.Members(Map<String, Raw> inside) -> new Raw.Members(members(inside, field.fields()));
      case Raw.Many(List<Raw> items) -> {
        List<Raw> rows = new ArrayList<>();
        items.forEach(item -> rows.add(of(field, item)));
        yield new Raw.Many(rows);
      }
      default -> raw;
    };
  }
}
