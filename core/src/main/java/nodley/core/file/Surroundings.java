package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;

/**
 * What a form file may refer to outside itself, and what it must be called.
 *
 * @param forms the other forms by name; empty if they cannot be known, as when a file is read alone
 * @param shared the lists, parts and texts there are
 * @param name the name that the file's form must have, where its place has given it one already
 */
public record Surroundings(
    Optional<Map<String, Form>> forms, Shared shared, Optional<String> name) {

  /** Nothing is known: references are taken as right. */
  public static final Surroundings UNKNOWN =
      new Surroundings(Optional.empty(), Shared.NONE, Optional.empty());

  public static Surroundings of(Map<String, Form> forms, Shared shared) {
    return new Surroundings(Optional.of(new LinkedHashMap<>(forms)), shared, Optional.empty());
  }

  /** The same, for a file that must declare this form. */
  public Surroundings named(String name) {
    return new Surroundings(forms, shared, Optional.of(name));
  }

  /** The same without knowing forms, but with what they share. */
  public static Surroundings alone(Shared shared) {
    return new Surroundings(Optional.empty(), shared, Optional.empty());
  }

  Optional<Form> form(String name) {
    return forms.map(known -> known.get(name));
  }

  Set<String> formNames() {
    return forms.map(Map::keySet).orElse(Set.of());
  }
}
