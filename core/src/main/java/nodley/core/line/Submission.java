package nodley.core.line;

import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.input.Input;

/**
 * The way of a submission. There is no other way in: a live check is the same line, cut before
 * <em>keep</em>.
 */
public final class Submission {

  private Submission() {}

  /** Judges, asks and keeps. */
  public static <R> Answer<R> send(
      Form form, Input input, Context context, Facts facts, Keep<R> keep) {
    return new Course(form, context, facts, Optional.empty())
        .read(input)
        .tidy()
        .judge()
        .ask()
        .keep(keep)
        .answer();
  }

  /** Judges and asks; nothing is kept. */
  public static Verdict check(Form form, Input input, Context context, Facts facts) {
    return check(form, input, context, facts, Optional.empty());
  }

  /**
   * Judges and asks about some fields; the verdict speaks only of these.
   *
   * @param only dotted paths of fields of the form, such as {@code contact.email}; empty for all
   */
  public static Verdict check(
      Form form, Input input, Context context, Facts facts, Optional<Set<String>> only) {
    return new Course(form, context, facts, only).read(input).tidy().judge().ask().verdict();
  }
}
