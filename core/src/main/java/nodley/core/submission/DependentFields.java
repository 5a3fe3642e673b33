package nodley.core.submission;

import java.util.ArrayList;
import java.util.List;
import nodley.core.expression.Expression;
import nodley.core.expression.Path;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Third stage: resolves {@code shown}, {@code editable}, {@code default} and {@code compute}, in
 * the form's dependency order (lint rejects cycles) and in every row. If a lookup is unavailable,
 * {@code shown} and {@code editable} count as true, a default or computed value is blank, and the
 * field is reported as open. Fields that have none of the four are not visited.
 */
final class DependentFields {

  private final Problems problems;
  private final Evaluator evaluator;
  private final Input.Encoding encoding;
  private final boolean adding;

  private DependentFields(Request request, Problems problems) {
    this.problems = problems;
    this.evaluator = new Evaluator(request, problems);
    this.encoding = request.input().encoding();
    this.adding = request.isAdd();
  }

  static Resolved resolve(Tidied tidied) {
    Request request = tidied.request();
    var fields = new DependentFields(request, tidied.problems());
    for (Path path : request.form().settling()) {
      tidied.root().each(path, fields::resolve);
    }
    return new Resolved(request, tidied.root(), tidied.problems());
  }

  private void resolve(FieldState state) {
    if (state.hidden) {
      return;
    }
    Field field = state.field;
    if (!evaluator.holds(field.presence().shown(), state, true)) {
      state.hide();
      return;
    }
    if (field.source().compute().isPresent()) {
      compute(state);
      return;
    }
    boolean editable = evaluator.holds(field.presence().editable(), state, true);
    if (state.absent && adding) {
      // In form encoding a box that is not ticked is absent; where that is not what is meant by
      // itself, there is a default, and a page says that the box is not ticked.
      boolean unticked =
          field.type() == Type.BOOLEAN
              && encoding == Input.Encoding.FORM
              && editable
              && !field.source().hasDefault();
      if (!unticked) {
        state.value = defaultValue(state);
      }
    } else if (!editable) {
      Value standing = adding ? defaultValue(state) : state.stored;
      if (!state.absent && !state.fullValue().equals(standing)) {
        problems.reject(state, "not-editable");
      }
      if (field.type().isScalar()) {
        state.value = standing;
      } else if (state.absent) {
        restore(state);
      }
    }
  }

  /** Restores all that is stored of a group or rows that may not be edited. */
  private static void restore(FieldState state) {
    if (state.field.type() == Type.ROWS) {
      List<Values> stored =
          state.stored instanceof Value.Rows(List<Values> rows) ? rows : List.of();
      List<FieldStates> nested = new ArrayList<>();
      for (Values row : stored) {
        nested.add(new FieldStates(state.field.fields(), state, nested.size(), row));
      }
      state.nested = nested.toArray(FieldStates[]::new);
      state.sentRows = nested.size();
    }
    for (FieldStates siblings : state.nested) {
      for (FieldState each : siblings.states()) {
        each.value = each.field.type().isScalar() ? each.stored : Value.BLANK;
        each.error = null;
        if (each.field.type() == Type.GROUP && each.nested.length == 0) {
          Values stored = each.stored instanceof Value.Group(Values values) ? values : Values.NONE;
          each.nested = new FieldStates[] {new FieldStates(each.field.fields(), each, -1, stored)};
        }
        restore(each);
      }
    }
  }

  /** Returns the default of a field that was not sent on add; blank if it has none. */
  private Value defaultValue(FieldState state) {
    Field.Source source = state.field.source();
    if (source.computed().isEmpty()) {
      return source.literal().orElse(Value.BLANK);
    }
    Value value = evaluator.value(source.computed().get(), state);
    return value == null ? Value.BLANK : Coercion.to(state.field, value);
  }

  /**
   * Replaces what was sent by the computed value and takes back earlier errors. Rejects another
   * value that was sent, unless an edit sends the stored one back.
   */
  private void compute(FieldState state) {
    Value sent = state.value;
    Expression compute = state.field.source().compute().orElseThrow();
    state.error = null;
    Value value = evaluator.value(compute, state);
    if (value == null) {
      state.value = Value.BLANK;
      return;
    }
    state.value = Coercion.to(state.field, value);
    boolean old = !adding && sent.equals(state.stored);
    if (!state.absent && !sent.equals(state.value) && !old) {
      problems.reject(state, "not-editable");
    }
  }
}
