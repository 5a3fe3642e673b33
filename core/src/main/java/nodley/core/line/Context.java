package nodley.core.line;

import java.util.Optional;
import nodley.core.form.Mode;

/**
 * What a judgement takes into account besides the values.
 *
 * @param record the id of the record that is edited; empty when one is added
 */
public record Context(Optional<String> record) {

  public static final Context ADD = new Context(Optional.empty());

  public static Context edit(String record) {
    return new Context(Optional.of(record));
  }

  public Mode mode() {
    return record.isPresent() ? Mode.EDIT : Mode.ADD;
  }
}
