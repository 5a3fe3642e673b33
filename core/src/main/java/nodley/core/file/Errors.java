package nodley.core.file;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;

/**
 * Collects the errors of a file, in the order in which they are found, so that a reader can go on
 * after each and all are told at once. For one reading and one thread.
 */
final class Errors {

  private final List<FormFileError> found = new ArrayList<>();

  void add(Place place, String pointer, String code, String detail) {
    add(place, pointer, code, detail, Optional.empty());
  }

  /**
   * Notes an error.
   *
   * @param pointer to the part of the file (RFC 6901)
   * @param code as docs/form-file.md lists it
   * @param detail a sentence, with what would be right
   * @param suggestion the name that was probably meant
   */
  void add(Place place, String pointer, String code, String detail, Optional<String> suggestion) {
    found.add(new FormFileError(place.line(), place.column(), pointer, code, detail, suggestion));
  }

  /**
   * Notes an unknown name, with the one that was probably meant.
   *
   * @param what stands before the name: `field`, say
   * @param otherwise what is told where no known name is near; empty for nothing
   */
  void unknown(
      Place place,
      String pointer,
      String what,
      String name,
      Collection<String> known,
      String otherwise) {
    Optional<String> near = Near.to(name, known);
    add(
        place,
        pointer,
        "unknown-name",
        "There is no "
            + what
            + " `"
            + Wellformed.of(name)
            + "`."
            + near.map(it -> " Did you mean `" + it + "`?").orElse(otherwise),
        near);
  }

  /** How many there are so far. */
  int count() {
    return found.size();
  }

  /** True if nothing is wrong so far. */
  boolean isEmpty() {
    return found.isEmpty();
  }

  /** All of them in the order of their lines, to be thrown. */
  FormFileException thrown() {
    found.sort(
        Comparator.comparingInt(FormFileError::line).thenComparingInt(FormFileError::column));
    return new FormFileException(found);
  }
}
