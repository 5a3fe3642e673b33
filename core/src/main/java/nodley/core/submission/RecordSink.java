package nodley.core.submission;

import java.util.List;
import java.util.Set;
import nodley.core.value.Values;

/**
 * Port through which accepted values are saved. Its own constraints decide in the end: between the
 * lookup and the save another submission may have taken a value.
 */
public interface RecordSink<R> {

  /**
   * Saves the values. Called at most once for a submission, on its thread; may block.
   *
   * @param keys the unique keys of the values
   */
  Outcome<R> keep(Values values, List<UniqueKey> keys);

  /** Saved, or rejected by a constraint. */
  sealed interface Outcome<R> {}

  record Kept<R>(R record) implements Outcome<R> {}

  /**
   * A constraint of the store rejected the values.
   *
   * @param taken indexes of the keys that another record has, from 0
   * @param held indexes of the keys that somebody else's open page holds
   * @param missing dotted paths of fields that refer to a record or an upload that is gone
   */
  record Clash<R>(Set<Integer> taken, Set<Integer> held, Set<String> missing)
      implements Outcome<R> {}
}
