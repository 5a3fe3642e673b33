package nodley.core.line;

import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/**
 * A value that stands in a form file, taken as if a person had typed it.
 *
 * @param fault what is wrong with it, in words
 */
public record Literal(Value value, Optional<String> fault) {

  public static Literal read(Field field, String text) {
    Value read = Reading.of(field, Optional.of(new Raw.Text(text)), Input.Door.FORM);
    Value value =
        read instanceof Value.Text(String typed)
            ? new Value.Text(Tidy.of(typed, field.tidying()))
            : read;
    Optional<String> code = value.isBlank() ? Optional.empty() : Rules.fault(field, value);
    // Unticked is a fine first state of a box that must be ticked in the end.
    boolean unticked = value instanceof Value.Bool;
    return new Literal(
        value,
        code.filter(_ -> !unticked).map(it -> Sentences.ENGLISH.error(field, it, value).detail()));
  }
}
