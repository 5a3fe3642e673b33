package nodley.core.submission;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import nodley.core.expression.EvaluationContext;
import nodley.core.expression.LookupUnavailable;
import nodley.core.expression.Path;
import nodley.core.form.Display;
import nodley.core.value.Value;

/**
 * Lets an expression of a field read the submission: the fields around it, the record before the
 * edit, other records, the clock, the mode and the caller. Hidden fields and values that could not
 * be read are blank to it. For one thread; reading another record may ask the store.
 */
record FieldContext(Request request, FieldStates siblings) implements EvaluationContext {

  @Override
  public Value get(int up, Path path) {
    FieldState state = siblings.up(up).at(path);
    return state == null ? Value.BLANK : seen(state);
  }

  @Override
  public void each(int up, Path path, List<Value> values) {
    siblings.up(up).each(path, state -> values.add(seen(state)));
  }

  /** What is hidden or could not be read is blank to an expression. */
  private static Value seen(FieldState state) {
    Value value = state.hidden ? Value.BLANK : state.outline();
    return value instanceof Value.Unread ? Value.BLANK : value;
  }

  @Override
  public Value through(String form, String record, List<String> path) {
    Optional<Display.Found> found =
        request.lookups().record(form, record).orElseThrow(() -> LookupUnavailable.NOW);
    return found.map(it -> it.values().at(path)).orElse(Value.BLANK);
  }

  @Override
  public LocalDate today() {
    return request.today();
  }

  @Override
  public Instant now() {
    return request.context().now();
  }

  @Override
  public String mode() {
    return request.context().mode().word();
  }

  @Override
  public Value caller(String what) {
    Context.Sender sender = request.context().sender();
    return switch (what) {
      case "name" -> text(sender.name());
      case "email" -> text(sender.email());
      default -> sender.roles().isEmpty() ? Value.BLANK : new Value.Chosen(sender.roles());
    };
  }

  private static Value text(String text) {
    return Value.text(text);
  }
}
