package nodley.service.operator;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * Marks a mapping whose successful calls are written to the operator's log, with this word as the
 * action. The subject is the path of the call without {@code /api/}: names, never values.
 */
@Target(ElementType.METHOD)
@Retention(RetentionPolicy.RUNTIME)
public @interface Logged {
  /** What was done, such as {@code publish}. */
  String value();
}
