package nodley.core.line;

import java.util.List;
import java.util.Optional;
import nodley.core.form.Choice;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Values;

/** What a field offers, given the other values of a submission. */
public final class Offer {

  private final Course course;
  private final Optional<FieldState> slot;

  private Offer(Course course, Optional<FieldState> slot) {
    this.course = course;
    this.slot = slot;
  }

  /**
   * The offer of one field.
   *
   * @param path where the field is declared; one in rows is taken in their first row
   * @param input the values of other fields, as far as they are known
   */
  public static Offer of(Form form, List<String> path, Input input, Context context, Lookups facts) {
    Course course = new Course(form, context, facts, Optional.empty()).read(input).tidy();
    return new Offer(course, course.slots(path).stream().findFirst());
  }

  /** Whether an option of a choice is offered. */
  public boolean includes(Choice choice) {
    return slot.map(it -> course.judgement().isOffered(it, choice.value()))
        .orElse(choice.offered());
  }

  /** Whether a record with these values is offered to a reference. */
  public boolean includes(Values record) {
    return slot.map(it -> course.judgement().meets(it, record)).orElse(true);
  }
}
