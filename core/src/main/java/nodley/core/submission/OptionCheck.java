package nodley.core.submission;

import java.util.List;
import java.util.Optional;
import nodley.core.expression.Expression;
import nodley.core.form.Choice;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Decides which options a field offers, given the other values of the submission. For one
 * submission and one thread. An option that is not offered any longer stays valid for a record that
 * has it already.
 */
record OptionCheck(Request request, Evaluator evaluator) {

  /** Returns the first chosen option that is not offered; the value itself where there is one. */
  Value firstNotOffered(FieldState state) {
    return new Value.Text(
        state.value instanceof Value.Chosen(List<String> options)
            ? options.stream().filter(it -> !isOffered(state, it)).findFirst().orElse("")
            : state.value.shown());
  }

  /**
   * Returns whether an option of a choice is offered. One that no longer is stays valid for a
   * record that has it already.
   */
  boolean isOffered(FieldState state, String option) {
    Choice choice = state.field.options().find(option).orElse(null);
    boolean stored = isStored(state, option);
    if (choice == null || !choice.offered()) {
      return stored;
    }
    return stored && isUnchanged(state) || meetsWhere(state, choice.marks());
  }

  private static boolean isStored(FieldState state, String option) {
    return state.stored != Value.BLANK
        && switch (state.stored) {
          case Value.Text text -> text.text().equals(option);
          case Value.Chosen chosen -> chosen.options().contains(option);
          default -> false;
        };
  }

  /**
   * Returns whether {@code where} is true for an option.
   *
   * @param option its marks, or the values of the record that it is
   */
  boolean meetsWhere(FieldState state, Values option) {
    Optional<Expression> where = state.field.options().where();
    if (where.isEmpty()) {
      return true;
    }
    Value met =
        evaluator.value(
            where.get(),
            state,
            new OptionContext(
                option,
                evaluator.context(state.siblings),
                state.field.options().source().isPresent()));
    return met == null || met instanceof Value.Bool bool && bool.value();
  }

  /** Returns true in an edit if no value has changed that {@code where} reads beside the option. */
  boolean isUnchanged(FieldState state) {
    if (request.isAdd()) {
      return false;
    }
    for (Expression.Read read :
        state.field.options().where().map(Expression::reads).orElse(List.of())) {
      // The first scope outwards from an option is that of the field.
      if (read.up() > 0 && !state.siblings.up(read.up() - 1).isUnchanged(read.path())) {
        return false;
      }
      boolean lent =
          state.field.options().source().isPresent()
              && state.siblings.find(read.names().getFirst()).isPresent();
      if (read.up() == 0 && lent && !state.siblings.isUnchanged(read.path())) {
        return false;
      }
    }
    return true;
  }
}
