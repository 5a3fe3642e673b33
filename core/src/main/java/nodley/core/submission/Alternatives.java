package nodley.core.submission;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.value.Value;

/**
 * Finds free values that are similar to a taken one: with the number in it counted up, or a number
 * appended. Each is valid for the field.
 */
final class Alternatives {

  private static final int MOST = 3;

  /** How many candidates are looked up, in one lookup. */
  private static final int ASKED = 20;

  private static final int TRIED = 200;
  private static final Pattern LAST_NUMBER = Pattern.compile("^(.*?)([0-9]{1,9})([^0-9]*)$");

  private final Form form;
  private final Lookups lookups;
  private final Optional<String> except;

  Alternatives(Form form, Lookups lookups, Optional<String> except) {
    this.form = form;
    this.lookups = lookups;
    this.except = except;
  }

  /** At most three that are free, the nearest first. */
  List<String> free(FieldState state, UniqueKey key) {
    List<Value> near = near(state.field, state.value);
    int place = key.unique().paths().indexOf(key.unique().at());
    List<UniqueKey> keys = new ArrayList<>();
    for (Value value : near) {
      List<Value> values = new ArrayList<>(key.values());
      values.set(place, value);
      keys.add(new UniqueKey(key.unique(), key.rows(), List.copyOf(values)));
    }
    Optional<Set<Integer>> taken =
        keys.isEmpty() ? Optional.empty() : lookups.taken(form, keys, except);
    if (taken.isEmpty()) {
      return List.of();
    }
    Set<Integer> gone = new HashSet<>(taken.get());
    gone.addAll(lookups.held(form, keys));
    List<String> free = new ArrayList<>();
    for (int i = 0; i < near.size() && free.size() < MOST; i++) {
      if (!gone.contains(i)) {
        free.add(near.get(i).shown());
      }
    }
    return free;
  }

  private static List<Value> near(Field field, Value value) {
    List<Value> near = new ArrayList<>();
    for (int i = 1; i <= TRIED && near.size() < ASKED; i++) {
      Value next = next(value, i);
      boolean fits =
          Tidy.of(field, next).equals(next)
              && Rules.fault(field, next, next, LocalDate.EPOCH, Instant.EPOCH) == null;
      if (fits) {
        near.add(next);
      }
    }
    return near;
  }

  /** The i-th after a value: its last number counted up; behind it if it has none. */
  private static Value next(Value value, int i) {
    if (value instanceof Value.Number(BigDecimal number)) {
      return new Value.Number(number.add(BigDecimal.valueOf(i)));
    }
    String text = value.shown();
    Matcher number = LAST_NUMBER.matcher(text);
    if (number.matches()) {
      String counted = Long.toString(Long.parseLong(number.group(2)) + i);
      String zeros = "0".repeat(Math.max(0, number.group(2).length() - counted.length()));
      return new Value.Text(number.group(1) + zeros + counted + number.group(3));
    }
    String between = text.contains(" ") ? " " : text.contains("-") ? "-" : "";
    return new Value.Text(text + between + (i + 1));
  }
}
