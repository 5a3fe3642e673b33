package nodley.core.line;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Values;

/**
 * The way of a submission. There is no other way in: a live check is the same line, cut before
 * <em>keep</em>.
 */
public final class Submission {

  private Submission() {}

  /** Judges, asks and keeps. */
  public static <R> Answer<R> send(
      Form form, Input input, Context context, Lookups facts, RecordSink<R> keep) {
    return send(form, input, context, facts, keep, Steps.UNTIMED);
  }

  /**
   * Judges, asks and keeps.
   *
   * @param steps is told how long each step takes; questions tell of themselves
   */
  public static <R> Answer<R> send(
      Form form, Input input, Context context, Lookups facts, RecordSink<R> keep, Steps steps) {
    Course course = judged(form, input, context, facts, Optional.empty(), steps).ask(false);
    steps.skip();
    return course.keep(keep).answer();
  }

  private static Course judged(
      Form form,
      Input input,
      Context context,
      Lookups facts,
      Optional<Set<String>> only,
      Steps steps) {
    Course course = new Course(form, context, facts, only).read(input);
    steps.done("read");
    course.tidy();
    steps.done("tidy");
    course.judge();
    steps.done("judge");
    return course;
  }

  /**
   * What kept values claim for themselves alone.
   *
   * @param context of an edit of the record
   */
  public static List<UniqueKey> claims(Form form, Values kept, Context context) {
    Input input = new Input(Raw.of(kept).members(), Input.Encoding.JSON);
    return new Course(form, context, Lookups.NONE, Optional.empty()).read(input).tidy().claims();
  }

  /** Judges and asks; nothing is kept. */
  public static Verdict check(Form form, Input input, Context context, Lookups facts) {
    return check(form, input, context, facts, Optional.empty());
  }

  /**
   * Judges and asks about some fields; the verdict speaks only of these.
   *
   * @param only dotted paths of fields of the form, such as {@code contact.email}; empty for all
   */
  public static Verdict check(
      Form form, Input input, Context context, Lookups facts, Optional<Set<String>> only) {
    return check(form, input, context, facts, only, Steps.UNTIMED);
  }

  /** The same, telling how long each step takes. */
  public static Verdict check(
      Form form,
      Input input,
      Context context,
      Lookups facts,
      Optional<Set<String>> only,
      Steps steps) {
    return judged(form, input, context, facts, only, steps).ask(true).verdict();
  }
}
