package nodley.service.access;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * Declares the right that a mapping needs. Each mapping has it; {@link AccessCheck} checks it
 * before the mapping is called.
 */
@Target(ElementType.METHOD)
@Retention(RetentionPolicy.RUNTIME)
public @interface Needs {
  /** The right, of a form where {@link Right#isOfForm} says so. */
  Right value();
}
