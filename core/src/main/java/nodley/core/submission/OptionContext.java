package nodley.core.submission;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import nodley.core.expression.EvaluationContext;
import nodley.core.expression.Path;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * What {@code where} sees: an option's or record's own values first, then what is around it.
 *
 * @param lends true if a name that the option does not have is the field's around it
 */
record OptionContext(Values option, EvaluationContext around, boolean lends)
    implements EvaluationContext {

  @Override
  public Value get(int up, Path path) {
    if (up > 0) {
      return around.get(up - 1, path);
    }
    if (lends && !option.byName().containsKey(path.names().getFirst())) {
      return around.get(0, path);
    }
    return path.length() == 1
        ? option.get(path.names().getFirst(), path.place(0))
        : option.at(path.names());
  }

  @Override
  public void each(int up, Path path, List<Value> values) {
    if (up == 0) {
      values.addAll(option.each(path.names()));
    } else {
      around.each(up - 1, path, values);
    }
  }

  @Override
  public Value through(String form, String record, List<String> path) {
    return around.through(form, record, path);
  }

  @Override
  public LocalDate today() {
    return around.today();
  }

  @Override
  public Instant now() {
    return around.now();
  }

  @Override
  public String mode() {
    return around.mode();
  }

  @Override
  public Value caller(String what) {
    return around.caller(what);
  }
}
