package nodley.core.line;

import java.util.Set;
import nodley.core.value.Values;

/** The port through which the line hands accepted values to a store, which is the last judge. */
public interface Keep<R> {

  Outcome<R> keep(Values values);

  /** What became of it. */
  sealed interface Outcome<R> {}

  record Kept<R>(R record) implements Outcome<R> {}

  /**
   * The store's own constraints refused what had seemed free a moment ago.
   *
   * @param taken the unique fields whose value another record keeps
   * @param missing the fields that refer to a record that is gone
   */
  record Clash<R>(Set<String> taken, Set<String> missing) implements Outcome<R> {}
}
