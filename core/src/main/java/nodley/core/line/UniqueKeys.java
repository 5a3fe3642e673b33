package nodley.core.line;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Predicate;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.form.Unique;
import nodley.core.value.Fold;
import nodley.core.value.Value;

/** What the values of a course claim for themselves alone, and where each claim's error stands. */
final class UniqueKeys {

  private final Course course;
  private final List<UniqueKey> claims;
  private final List<FieldState> slots;

  private UniqueKeys(Course course, int likely) {
    this.course = course;
    this.claims = new ArrayList<>(likely);
    this.slots = new ArrayList<>(likely);
  }

  /** All of them; a claim with an error in it is none. */
  static UniqueKeys of(Course course, Form form, FieldStates root) {
    UniqueKeys claims = new UniqueKeys(course, form.uniques().size());
    for (Unique unique : form.uniques()) {
      if (unique.rows().isEmpty()) {
        claims.add(unique, root, List.of());
      } else {
        inRows(root, unique.rows(), List.of(), (scope, rows) -> claims.add(unique, scope, rows));
      }
    }
    return claims;
  }

  /** Each scope at the end of a path of rows, with the numbers of the rows that lead there. */
  private static void inRows(
      FieldStates scope,
      List<String> path,
      List<Integer> numbers,
      BiConsumer<FieldStates, List<Integer>> each) {
    if (path.isEmpty()) {
      each.accept(scope, numbers);
      return;
    }
    FieldState slot = scope.find(path.getFirst()).orElseThrow();
    boolean repeated = slot.field.type() == Type.ROWS;
    for (int i = 0; i < slot.inside.length; i++) {
      List<Integer> here = new ArrayList<>(numbers);
      if (repeated) {
        here.add(i);
      }
      inRows(slot.inside[i], path.subList(1, path.size()), here, each);
    }
  }

  private void add(Unique unique, FieldStates scope, List<Integer> rows) {
    Value[] values = new Value[unique.paths().size()];
    for (int i = 0; i < values.length; i++) {
      FieldState slot = scope.at(unique.paths().get(i));
      if (slot == null || slot.hidden || slot.error != null || slot.value == Value.BLANK) {
        return;
      }
      values[i] = slot.value;
    }
    FieldState at = scope.at(unique.at());
    FieldStates seen = unique.ofForm() ? scope : at.scope;
    if (unique.when().isEmpty() || unique.when().get().holds(course.scene(seen))) {
      claims.add(new UniqueKey(unique, rows, List.of(values)));
      slots.add(at);
    }
  }

  /** Leaves out those that are not spoken of; a claim that is not asked about early is told. */
  UniqueKeys asked(boolean early, Predicate<FieldState> isSpokenOf) {
    UniqueKeys asked = new UniqueKeys(course, claims.size());
    for (int i = 0; i < claims.size(); i++) {
      FieldState slot = slots.get(i);
      if (slot.error != null || !isSpokenOf.test(slot)) {
        continue;
      }
      if (early && !claims.get(i).unique().early()) {
        course.unasked(slot);
      } else {
        asked.claims.add(claims.get(i));
        asked.slots.add(slot);
      }
    }
    return asked;
  }

  /** Those that an earlier row of the same submission makes already. */
  Set<Integer> repeated() {
    if (!areInRows()) {
      return Set.of();
    }
    Set<Integer> repeated = new HashSet<>();
    Map<Unique, Set<List<Value>>> seen = new HashMap<>();
    for (int i = 0; i < claims.size(); i++) {
      UniqueKey claim = claims.get(i);
      if (!claim.rows().isEmpty()) {
        List<Value> values =
            claim.unique().ignoreCase()
                ? claim.values().stream().map(Fold::of).toList()
                : claim.values();
        if (!seen.computeIfAbsent(claim.unique(), _ -> new HashSet<>()).add(values)) {
          repeated.add(i);
        }
      }
    }
    return repeated;
  }

  private boolean areInRows() {
    for (UniqueKey claim : claims) {
      if (!claim.rows().isEmpty()) {
        return true;
      }
    }
    return false;
  }

  List<UniqueKey> list() {
    return claims;
  }

  void refuse(Set<Integer> taken) {
    for (int i : taken) {
      course.refuseTaken(slots.get(i), claims.get(i));
    }
  }

  void refuseHeld(Set<Integer> held) {
    for (int i : held) {
      course.refuse(slots.get(i), "held");
    }
  }

  void leaveOpen() {
    slots.forEach(course::unasked);
  }
}
