package nodley.core.line;

import java.util.List;
import java.util.Optional;
import java.util.function.BiPredicate;
import nodley.core.expression.Expression;
import nodley.core.expression.Path;
import nodley.core.expression.LookupUnavailable;
import nodley.core.form.Choice;
import nodley.core.form.Condition;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Rule;
import nodley.core.form.Type;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Station three, judge: each value by itself, then what is typed twice, then rules over several.
 */
final class Validator {

  private final Course course;

  Validator(Course course) {
    this.course = course;
  }

  void judge(Form form, FieldStates root) {
    judge(root);
    repeats(root);
    rules(root);
    for (Rule rule : form.rules()) {
      judge(rule, root, rule.at().isEmpty() ? null : root.at(rule.at()));
    }
  }

  private void judge(FieldStates scope) {
    for (FieldState slot : scope.slots()) {
      if (slot.hidden) {
        continue;
      }
      if (slot.error == null) {
        String code = fault(slot);
        if (code != null) {
          course.refuse(slot, code);
        }
      }
      for (FieldStates inside : slot.inside) {
        judge(inside);
      }
    }
  }

  private String fault(FieldState slot) {
    Value value = slot.outline();
    if (isMissing(slot, value)) {
      return "value-missing";
    }
    String code = Rules.fault(slot.field, value, slot.kept, course.today(), course.context().now());
    return code == null ? notAnOption(slot) : code;
  }

  private boolean isMissing(FieldState slot, Value value) {
    Condition required = slot.field.presence().required();
    boolean blank = value == Value.BLANK || value instanceof Value.Bool bool && !bool.value();
    if (!blank || required.isNever() || keepsSecret(slot)) {
      return false;
    }
    return course.holds(required, slot, false);
  }

  /**
   * In an edit a blank secret keeps the kept one, and need not be typed twice; a new row has none.
   */
  private boolean keepsSecret(FieldState slot) {
    if (!slot.field.isSecret() || course.context().mode() == Mode.ADD || !slot.scope.isKept()) {
      return false;
    }
    return slot.field
        .repeats()
        .flatMap(slot.scope::find)
        .map(other -> other.value.isBlank())
        .orElse(slot.field.isKept());
  }

  private String notAnOption(FieldState slot) {
    Type type = slot.field.type();
    boolean offered =
        type == Type.CHOICE && slot.value instanceof Value.Text text
            ? isOffered(slot, text.text())
            : type != Type.CHOICES
                || !(slot.value instanceof Value.Chosen chosen)
                || areOffered(slot, chosen.options());
    return offered ? null : "not-an-option";
  }

  private boolean areOffered(FieldState slot, List<String> options) {
    for (String option : options) {
      if (!isOffered(slot, option)) {
        return false;
      }
    }
    return true;
  }

  /** The first of the chosen options that is not offered, for its sentence. */
  String culprit(FieldState slot) {
    return slot.value instanceof Value.Chosen(List<String> options)
        ? options.stream().filter(it -> !isOffered(slot, it)).findFirst().orElse("")
        : slot.value.shown();
  }

  /** What is no longer offered, or where, stays right for a record that has it already. */
  boolean isOffered(FieldState slot, String option) {
    Choice choice = slot.field.options().find(option).orElse(null);
    boolean kept = keeps(slot, option);
    if (choice == null || !choice.offered()) {
      return kept;
    }
    return kept && stands(slot) || meets(slot, choice.marks());
  }

  private static boolean keeps(FieldState slot, String option) {
    return slot.kept != Value.BLANK
        && switch (slot.kept) {
          case Value.Text text -> text.text().equals(option);
          case Value.Chosen chosen -> chosen.options().contains(option);
          default -> false;
        };
  }

  /** Whether {@code where} lets an option in, by its marks or, of a record, its values. */
  boolean meets(FieldState slot, Values option) {
    Optional<Expression> where = slot.field.options().where();
    if (where.isEmpty()) {
      return true;
    }
    Value in = course.value(where.get(), slot, new OptionContext(option, course.scene(slot.scope)));
    return in == null || in instanceof Value.Bool bool && bool.value();
  }

  /** True in an edit if nothing changed that {@code where} looks at outside the option. */
  boolean stands(FieldState slot) {
    if (course.context().mode() == Mode.ADD) {
      return false;
    }
    for (Expression.Read read :
        slot.field.options().where().map(Expression::reads).orElse(List.of())) {
      // The first scope outwards from an option is that of the field.
      if (read.up() > 0 && !slot.scope.up(read.up() - 1).isUnchanged(read.path())) {
        return false;
      }
    }
    return true;
  }

  /** What is typed twice must be alike, once there is something to repeat. */
  private void repeats(FieldStates scope) {
    if (!scope.fields().hasRepeats()) {
      return;
    }
    for (FieldState slot : scope.slots()) {
      Optional<FieldState> first = slot.field.repeats().flatMap(scope::find);
      boolean judged =
          first.isPresent() && !slot.hidden && slot.error == null && first.get().error == null;
      if (judged && !slot.value.equals(first.get().value)) {
        course.refuse(slot, "not-repeated");
      }
      for (FieldStates inside : slot.inside) {
        repeats(inside);
      }
    }
  }

  private void rules(FieldStates scope) {
    if (!scope.fields().hasRules()) {
      return;
    }
    for (FieldState slot : scope.slots()) {
      if (!slot.hidden) {
        for (Rule rule : slot.field.rules()) {
          judge(rule, scope, rule.at().isEmpty() ? slot : scope.at(rule.at()));
        }
        for (FieldStates inside : slot.inside) {
          rules(inside);
        }
      }
    }
  }

  private void judge(Rule rule, FieldStates scope, FieldState at) {
    boolean old = rule.must().readsClock() && course.context().mode() == Mode.EDIT;
    boolean idle =
        course.hasRefused() && readsAny(rule, scope, FieldStates::hasError)
            || old && !readsAny(rule, scope, (from, path) -> !from.isUnchanged(path));
    if (!idle && fails(rule, scope, at)) {
      course.refuse(rule, at, scope);
    }
  }

  /** True if any of the fields that a rule reads is so. */
  private static boolean readsAny(Rule rule, FieldStates scope, BiPredicate<FieldStates, Path> is) {
    for (Expression.Read read : rule.must().reads()) {
      if (is.test(scope.up(read.up()), read.path())) {
        return true;
      }
    }
    return false;
  }

  /**
   * What nobody can be asked about now does not fail; it is open where the error would stand, or
   * else at the first field that the rule reads.
   */
  private boolean fails(Rule rule, FieldStates scope, FieldState at) {
    try {
      return rule.must().fails(course.scene(scope));
    } catch (LookupUnavailable e) {
      FieldState asked = at;
      for (Expression.Read read : rule.must().reads()) {
        asked = asked == null ? scope.up(read.up()).first(read.path()) : asked;
      }
      if (asked != null) {
        course.unasked(asked);
      }
      return false;
    }
  }
}
