package nodley.core.file;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Collects what is wrong, so that a reader can go on and find the rest. */
final class Errors {

  private final List<FormFileError> found = new ArrayList<>();

  void add(Place place, String pointer, String code, String detail) {
    add(place, pointer, code, detail, Optional.empty());
  }

  void add(Place place, String pointer, String code, String detail, Optional<String> suggestion) {
    found.add(new FormFileError(place.line(), place.column(), pointer, code, detail, suggestion));
  }

  /** How many there are so far. */
  int count() {
    return found.size();
  }

  boolean isEmpty() {
    return found.isEmpty();
  }

  FormFileException thrown() {
    found.sort(
        Comparator.comparingInt(FormFileError::line).thenComparingInt(FormFileError::column));
    return new FormFileException(found);
  }
}
