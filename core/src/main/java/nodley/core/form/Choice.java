package nodley.core.form;

import java.util.LinkedHashMap;
import java.util.Map;
import nodley.core.value.Value;

/**
 * One option of a choice.
 *
 * @param offered false if it is there only for records that have it already
 * @param marks what {@code where} can ask of the option
 */
public record Choice(String value, String label, boolean offered, Map<String, Value> marks) {

  public Choice {
    marks = new LinkedHashMap<>(marks);
  }

  public Choice(String value, String label) {
    this(value, label, true, Map.of());
  }
}
