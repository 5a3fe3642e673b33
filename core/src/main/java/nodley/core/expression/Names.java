package nodley.core.expression;

import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Symbol table of an expression: which names it can use, and their types, from the innermost scope
 * outwards.
 */
public interface Names {

  /** Nothing is in reach. */
  Names NONE =
      new Names() {
        @Override
        public Optional<Found> find(String name) {
          return Optional.empty();
        }

        @Override
        public Collection<String> all() {
          return List.of();
        }

        @Override
        public Optional<Names> outer() {
          return Optional.empty();
        }
      };

  /** A name of this scope alone. */
  Optional<Found> find(String name);

  /** The names of this scope alone, for suggestions. */
  Collection<String> all();

  /** The scope around this one. */
  Optional<Names> outer();

  /**
   * What stands behind a name.
   *
   * @param place where it stands among its neighbours, counted from 0
   * @param inside the names behind a dot: the fields of a group, of rows, or of another form
   * @param refersTo the form behind a record field
   * @param secret true if no expression may read it
   * @param onPages false if only the server knows its value
   */
  record Found(
      ExpressionType kind,
      int place,
      Optional<Names> inside,
      Optional<String> refersTo,
      boolean secret,
      boolean onPages) {}
}
