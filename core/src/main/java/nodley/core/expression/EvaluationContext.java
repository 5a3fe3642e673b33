package nodley.core.expression;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import nodley.core.value.Value;

/**
 * What an expression may read: fields, clock, mode, caller. Of a group or rows only whether they
 * are blank, and the number of rows. {@code today} and {@code now} do not change within a
 * submission.
 */
public interface EvaluationContext {

  /**
   * The value of a field; one that is hidden, unread or gone is blank.
   *
   * @param up how many scopes outwards
   * @param path the way to it from there
   */
  Value get(int up, Path path);

  /** Adds the values of a field of rows, one for each row. */
  void each(int up, Path path, List<Value> values);

  /** A field of a record of another form; blank if the record is gone or may not be seen. */
  Value through(String form, String record, List<String> path) throws LookupUnavailable;

  LocalDate today();

  Instant now();

  /** {@code add} or {@code edit}. */
  String mode();

  /** {@code name}, {@code email} or {@code roles} of who sends. */
  Value caller(String what);
}
