package nodley.core.file;

import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Port to the databases of others that the settings of a service name, for what a form file says of
 * their tables. Called while a form file is read that is to be published; may block.
 */
public interface Sources {

  /** There are none. */
  Sources NONE =
      new Sources() {
        @Override
        public Set<String> names() {
          return Set.of();
        }

        @Override
        public Optional<Set<String>> columns(String source, List<String> table) {
          return Optional.empty();
        }
      };

  /** A database did not answer. */
  final class AwayException extends RuntimeException {

    private static final long serialVersionUID = 1;

    /**
     * With what is told to whoever publishes.
     *
     * @param why in a few words
     */
    public AwayException(String why) {
      super(why);
    }
  }

  /** Returns the names of all. */
  Set<String> names();

  /**
   * Returns the names of a table's columns; empty if there is no such table, or it may not be read.
   *
   * @param table its name, or the names of its schema and itself
   * @throws AwayException if the database does not answer
   */
  Optional<Set<String>> columns(String source, List<String> table);
}
