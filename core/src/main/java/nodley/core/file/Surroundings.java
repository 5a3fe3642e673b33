package nodley.core.file;

import java.util.Optional;
import java.util.Set;

/**
 * What a form file may refer to outside itself, and what it must be called.
 *
 * @param forms the names of all forms; empty if they cannot be known, as when a file is read alone
 * @param name the name that the file's form must have, where its place has given it one already
 */
public record Surroundings(Optional<Set<String>> forms, Optional<String> name) {

  /** Nothing is known: references are taken as right. */
  public static final Surroundings UNKNOWN = new Surroundings(Optional.empty(), Optional.empty());

  public static Surroundings of(Set<String> forms) {
    return new Surroundings(Optional.of(Set.copyOf(forms)), Optional.empty());
  }

  /** The same, for a file that must declare this form. */
  public Surroundings named(String name) {
    return new Surroundings(forms, Optional.of(name));
  }
}
