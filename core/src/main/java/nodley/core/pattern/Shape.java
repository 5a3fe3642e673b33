package nodley.core.pattern;

import com.ibm.icu.text.UnicodeSet;
import java.util.List;

/** Syntax tree of a pattern. */
sealed interface Shape {

  /** Any one of some characters. */
  record One(UnicodeSet of) implements Shape {}

  /** One after the other; none of them is the empty text. */
  record All(List<Shape> parts) implements Shape {}

  /** One of several. */
  record Either(List<Shape> parts) implements Shape {}

  /**
   * One over and over.
   *
   * @param max {@link #ENDLESS} if there is no end
   */
  record Repeat(Shape part, int min, int max) implements Shape {}

  /** More often than any value is long. */
  int ENDLESS = Integer.MAX_VALUE;
}
