package nodley.core.submission;

import java.util.List;
import java.util.Set;
import nodley.core.value.Values;

/** The port through which the line hands accepted values to a store, which is the last judge. */
public interface RecordSink<R> {

  /**
   * Keeps them.
   *
   * @param claims what of them no other record may have
   */
  Outcome<R> keep(Values values, List<UniqueKey> claims);

  /** What became of it. */
  sealed interface Outcome<R> {}

  record Kept<R>(R record) implements Outcome<R> {}

  /**
   * The store's own constraints refused what had seemed free a moment ago.
   *
   * @param taken the places of the claims that another record has, counted from 0
   * @param held the places of those that are set aside for somebody else
   * @param missing the fields that refer to a record that is gone
   */
  record Clash<R>(Set<Integer> taken, Set<Integer> held, Set<String> missing)
      implements Outcome<R> {}
}
