package nodley.core.file;

import java.util.Optional;
import java.util.Set;

/**
 * What a form file may refer to outside itself.
 *
 * @param forms the names of all forms; empty if they cannot be known, as when a file is read alone
 */
public record Surroundings(Optional<Set<String>> forms) {

  /** Nothing is known: references are taken as right. */
  public static final Surroundings UNKNOWN = new Surroundings(Optional.empty());

  public static Surroundings of(Set<String> forms) {
    return new Surroundings(Optional.of(Set.copyOf(forms)));
  }
}
