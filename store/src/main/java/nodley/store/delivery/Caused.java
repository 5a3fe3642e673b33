package nodley.store.delivery;

import java.util.List;
import java.util.function.Function;
import nodley.core.value.Values;
import nodley.store.common.StoredRecord;

/**
 * What outlets are to be told of a change of a record. Made in two steps, for while one record is
 * written others wait: what the values alone say can be made before, on the caller's thread.
 */
@FunctionalInterface
public interface Caused {

  /** Says that no outlet is told anything. */
  Caused NOTHING = _ -> _ -> List.of();

  /**
   * Prepares the deliveries of a record that is to hold some values.
   *
   * @param stored the values as they will be read
   * @return what makes the deliveries of the record, which holds these values, in its transaction
   */
  Function<StoredRecord, List<Outgoing>> prepared(Values stored);

  /** Makes the deliveries of a record, in its transaction. */
  default List<Outgoing> of(StoredRecord record) {
    return prepared(record.values()).apply(record);
  }
}
