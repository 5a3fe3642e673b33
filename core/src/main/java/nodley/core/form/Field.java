package nodley.core.form;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Value;

/**
 * One value of a form.
 *
 * @param say the developer's own sentences, by code or by the state of the early check
 * @param refersTo the form whose records a field of type record points at
 */
public record Field(
    String name,
    Type type,
    Control control,
    Wording wording,
    Optional<Value> first,
    boolean required,
    Tidying tidying,
    Limits limits,
    List<Choice> options,
    Optional<Unique> unique,
    Optional<String> refersTo,
    Map<String, String> say) {

  /** What a person reads around the control; all but the label may be empty. */
  public record Wording(String label, String help, String placeholder, String unit) {}

  /** One option of a choice. */
  public record Choice(String value, String label) {}

  /**
   * No two records keep the same value.
   *
   * @param ignoreCase compare by Unicode case folding, so that Ann@… and ann@… are the same
   */
  public record Unique(boolean ignoreCase) {}

  public Field {
    options = List.copyOf(options);
    say = Map.copyOf(say);
  }

  public String label() {
    return wording.label();
  }

  /** The same field with a first value. */
  public Field startingWith(Value value) {
    return new Field(
        name,
        type,
        control,
        wording,
        Optional.of(value),
        required,
        tidying,
        limits,
        options,
        unique,
        refersTo,
        say);
  }

  /** The text that stands for a value where a person reads it: an option's label, yes or no. */
  public String display(Value value) {
    if (value instanceof Value.Bool(boolean yes)) {
      return yes ? "yes" : "no";
    }
    if (type == Type.CHOICE && value instanceof Value.Text(String text)) {
      return options.stream()
          .filter(option -> option.value().equals(text))
          .map(Choice::label)
          .findFirst()
          .orElse(text);
    }
    return value.shown();
  }
}
