package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;

/**
 * Reads lists of paths of fields: each a name, behind those of the groups around it.
 *
 * @param fits whether a field of a type may be named
 * @param cannot what one of another type cannot, as in "A field of type secret cannot be sent."
 */
record FieldPaths(Errors errors, SymbolTable names, Predicate<Type> fits, String cannot) {

  /** Returns a path behind the groups and rows around it. */
  static List<String> join(List<String> outer, List<String> path) {
    List<String> whole = new ArrayList<>(outer);
    whole.addAll(path);
    return List.copyOf(whole);
  }

  /** Returns the paths, each once; those with a fault are left out and told. */
  List<List<String>> read(Section section, String key) {
    Set<List<String>> paths = new LinkedHashSet<>();
    int index = 0;
    for (Node item : section.items(key).orElse(List.of())) {
      String pointer = section.pointer(key) + "/" + index++;
      String text = Section.textOf(item).orElse("");
      List<String> path = Arrays.asList(text.split("\\.", -1));
      Optional<String> fault = fault(path);
      if (fault.isPresent()) {
        errors.add(item.place(), pointer, "unknown-name", fault.get());
      } else if (!paths.add(path)) {
        errors.add(item.place(), pointer, "duplicate", "Duplicate field `" + text + "`.");
      }
    }
    return List.copyOf(paths);
  }

  private Optional<String> fault(List<String> path) {
    SymbolTable here = names;
    for (int i = 0; i < path.size(); i++) {
      Type type = here.type(path.get(i)).orElse(null);
      boolean last = i == path.size() - 1;
      if (type == null) {
        return Optional.of(
            "There is no field `"
                + Wellformed.of(String.join(".", path))
                + "` here."
                + Near.to(path.get(i), here.all())
                    .map(near -> " Did you mean `" + near + "`?")
                    .orElse(""));
      }
      if (last && !fits.test(type) || !last && type != Type.GROUP) {
        return Optional.of("A field of type " + type.word() + " cannot " + cannot + ".");
      }
      here = last ? here : here.inside(path.get(i));
    }
    return Optional.empty();
  }
}
