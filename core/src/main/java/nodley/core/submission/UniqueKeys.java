package nodley.core.submission;

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

/**
 * The values of one submission that no other record may have: one key for each {@code unique}, one
 * per row for a unique within rows. A key is left out if a part of it is blank, hidden or has an
 * error, or if its {@code when} is not true. The index of a key in {@link #list} is its number in
 * the answers of {@link Lookups} and {@link RecordSink}.
 */
final class UniqueKeys {

  private final Request request;
  private final List<UniqueKey> keys;
  private final List<FieldState> states;

  private UniqueKeys(Request request, int likely) {
    this.request = request;
    this.keys = new ArrayList<>(likely);
    this.states = new ArrayList<>(likely);
  }

  static UniqueKeys of(Request request, FieldStates root) {
    Form form = request.form();
    UniqueKeys keys = new UniqueKeys(request, form.uniques().size());
    for (Unique unique : form.uniques()) {
      if (unique.rows().isEmpty()) {
        keys.add(unique, root, List.of());
      } else {
        inRows(
            root, unique.rows(), List.of(), (siblings, rows) -> keys.add(unique, siblings, rows));
      }
    }
    return keys;
  }

  /** Calls back for the fields of each row at the end of a path of rows, with the rows' numbers. */
  private static void inRows(
      FieldStates siblings,
      List<String> path,
      List<Integer> numbers,
      BiConsumer<FieldStates, List<Integer>> each) {
    if (path.isEmpty()) {
      each.accept(siblings, numbers);
      return;
    }
    FieldState state = siblings.find(path.getFirst()).orElseThrow();
    boolean repeated = state.field.type() == Type.ROWS;
    for (int i = 0; i < state.nested.length; i++) {
      List<Integer> here = new ArrayList<>(numbers);
      if (repeated) {
        here.add(i);
      }
      inRows(state.nested[i], path.subList(1, path.size()), here, each);
    }
  }

  private void add(Unique unique, FieldStates siblings, List<Integer> rows) {
    Value[] values = new Value[unique.paths().size()];
    for (int i = 0; i < values.length; i++) {
      FieldState state = siblings.at(unique.paths().get(i));
      if (state == null || state.hidden || state.error != null || state.value == Value.BLANK) {
        return;
      }
      values[i] = state.value;
    }
    FieldState at = siblings.at(unique.at());
    FieldStates seen = unique.ofForm() ? siblings : at.siblings;
    if (unique.when().isEmpty() || unique.when().get().holds(seen.context(request))) {
      keys.add(new UniqueKey(unique, rows, List.of(values)));
      states.add(at);
    }
  }

  /**
   * Returns the keys to look up: those without an error that are covered. In a live check a key
   * with {@code early: false} is left out, and its field is reported as open.
   */
  UniqueKeys toLookUp(boolean live, Predicate<FieldState> isCovered, Problems problems) {
    UniqueKeys some = new UniqueKeys(request, keys.size());
    for (int i = 0; i < keys.size(); i++) {
      FieldState state = states.get(i);
      if (state.error != null || !isCovered.test(state)) {
        continue;
      }
      if (live && !keys.get(i).unique().early()) {
        problems.leaveOpen(state);
      } else {
        some.keys.add(keys.get(i));
        some.states.add(state);
      }
    }
    return some;
  }

  /** Returns the indexes of keys that an earlier row of the submission already has. */
  Set<Integer> duplicateRows() {
    if (!areInRows()) {
      return Set.of();
    }
    Set<Integer> repeated = new HashSet<>();
    Map<Unique, Set<List<Value>>> seen = new HashMap<>();
    for (int i = 0; i < keys.size(); i++) {
      UniqueKey key = keys.get(i);
      if (!key.rows().isEmpty()) {
        List<Value> values =
            key.unique().ignoreCase() ? key.values().stream().map(Fold::of).toList() : key.values();
        if (!seen.computeIfAbsent(key.unique(), _ -> new HashSet<>()).add(values)) {
          repeated.add(i);
        }
      }
    }
    return repeated;
  }

  private boolean areInRows() {
    for (UniqueKey key : keys) {
      if (!key.rows().isEmpty()) {
        return true;
      }
    }
    return false;
  }

  List<UniqueKey> list() {
    return keys;
  }

  /** Rejects the keys with these indexes because other records have them. */
  void rejectTaken(Set<Integer> taken, Problems problems) {
    for (int i : taken) {
      FieldState state = states.get(i);
      UniqueKey key = keys.get(i);
      if (state.error == null) {
        problems.rejectTaken(state, key.unique(), alternatives(state, key));
      }
    }
  }

  private List<String> alternatives(FieldState state, UniqueKey key) {
    return key.unique().alternatives()
        ? new Alternatives(request.form(), request.lookups(), request.context().record())
            .free(state, key)
        : List.of();
  }

  /** Rejects the keys with these indexes because other open pages hold them. */
  void rejectHeld(Set<Integer> held, Problems problems) {
    for (int i : held) {
      problems.reject(states.get(i), "held");
    }
  }

  /** Returns the field that has the error of each key, by the key's index. */
  List<FieldState> states() {
    return states;
  }
}
