package nodley.core.line;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import nodley.core.expression.Path;
import nodley.core.expression.EvaluationContext;
import nodley.core.expression.LookupUnavailable;
import nodley.core.form.Display;
import nodley.core.value.Value;

/** What an expression of a field sees: the slots around it, and what the course was given. */
record FieldContext(Course course, FieldStates scope) implements EvaluationContext {

  @Override
  public Value get(int up, Path path) {
    FieldState slot = scope.up(up).at(path);
    return slot == null ? Value.BLANK : seen(slot);
  }

  @Override
  public void each(int up, Path path, List<Value> values) {
    scope.up(up).each(path, slot -> values.add(seen(slot)));
  }

  /** What is hidden or could not be read is blank to an expression. */
  private static Value seen(FieldState slot) {
    Value value = slot.hidden ? Value.BLANK : slot.outline();
    return value instanceof Value.Unread ? Value.BLANK : value;
  }

  @Override
  public Value through(String form, String record, List<String> path) {
    Optional<Display.Found> found =
        course.facts().record(form, record).orElseThrow(() -> LookupUnavailable.NOW);
    return found.map(it -> it.values().at(path)).orElse(Value.BLANK);
  }

  @Override
  public LocalDate today() {
    return course.today();
  }

  @Override
  public Instant now() {
    return course.context().now();
  }

  @Override
  public String mode() {
    return course.context().mode().word();
  }

  @Override
  public Value caller(String what) {
    Context.Sender sender = course.context().sender();
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
