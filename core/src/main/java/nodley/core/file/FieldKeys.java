package nodley.core.file;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Type;

/**
 * The table of the keys of fields, and of the types that have each. One place, so that the reader,
 * the JSON Schema for editors and the hints for misspelt keys agree.
 */
final class FieldKeys {

  private static final List<String> COMMON =
      List.of(
          "type",
          "label",
          "help",
          "required",
          "shown",
          "editable",
          "control",
          "say",
          "rules",
          "masked",
          "was");

  private static final Set<Type> WRITTEN = EnumSet.of(Type.TEXT, Type.EMAIL, Type.URL, Type.PHONE);
  private static final Set<Type> NUMBERS = EnumSet.of(Type.INTEGER, Type.DECIMAL);
  private static final Set<Type> CLOCK = EnumSet.of(Type.DATE, Type.TIME, Type.DATETIME);
  private static final Set<Type> SETS = EnumSet.of(Type.GROUP, Type.ROWS);

  /** The keys that only some types have. */
  private static final Map<String, Set<Type>> SPECIAL =
      Map.ofEntries(
          Map.entry("placeholder", union(WRITTEN, NUMBERS)),
          Map.entry("unit", union(EnumSet.of(Type.TEXT), NUMBERS)),
          Map.entry("add", EnumSet.of(Type.ROWS)),
          Map.entry("multiline", EnumSet.of(Type.TEXT)),
          Map.entry("tidy", WRITTEN),
          Map.entry("keep", WRITTEN),
          Map.entry("length", union(WRITTEN, EnumSet.of(Type.SECRET))),
          Map.entry("pattern", union(WRITTEN, EnumSet.of(Type.SECRET))),
          Map.entry("range", union(NUMBERS, CLOCK)),
          Map.entry("step", NUMBERS),
          Map.entry("decimals", EnumSet.of(Type.DECIMAL)),
          Map.entry("options", EnumSet.of(Type.TEXT, Type.CHOICE, Type.CHOICES, Type.RECORD)),
          Map.entry("count", EnumSet.of(Type.CHOICES, Type.ROWS, Type.FILE)),
          Map.entry("size", EnumSet.of(Type.FILE)),
          Map.entry("accept", EnumSet.of(Type.FILE)),
          Map.entry("form", EnumSet.of(Type.RECORD)),
          Map.entry("fields", SETS),
          Map.entry("use", SETS),
          Map.entry(
              "repeats", union(WRITTEN, union(NUMBERS, union(CLOCK, EnumSet.of(Type.SECRET))))),
          Map.entry("check", except(SETS)),
          Map.entry("prefill", except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET)))),
          Map.entry("kept", except(union(SETS, EnumSet.of(Type.FILE)))),
          Map.entry("default", except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET)))),
          Map.entry(
              "suggest",
              except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET, Type.CHOICES, Type.RECORD)))),
          Map.entry(
              "compute",
              except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET, Type.CHOICES, Type.RECORD)))),
          Map.entry("see", except(SETS)),
          Map.entry("edit", except(SETS)),
          Map.entry(
              "unique",
              except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET, Type.CHOICES, Type.BOOLEAN)))));

  private FieldKeys() {}

  private static Set<Type> union(Set<Type> a, Set<Type> b) {
    Set<Type> both = EnumSet.copyOf(a);
    both.addAll(b);
    return both;
  }

  private static Set<Type> except(Set<Type> types) {
    return EnumSet.complementOf(EnumSet.copyOf(types));
  }

  static boolean has(String key, Type type) {
    return COMMON.contains(key) || SPECIAL.get(key).contains(type);
  }

  static Set<String> all() {
    Set<String> all = new LinkedHashSet<>(COMMON);
    all.addAll(SPECIAL.keySet());
    return all;
  }

  static List<String> of(Type type) {
    List<String> keys = new ArrayList<>(COMMON);
    SPECIAL.forEach(
        (key, types) -> {
          if (types.contains(type)) {
            keys.add(key);
          }
        });
    return keys;
  }

  /** Why a key that other types have is not for this one. */
  static Optional<String> notForThis(String key, Type type) {
    if (!SPECIAL.containsKey(key)) {
      return Optional.empty();
    }
    String instead =
        switch (key) {
          case "length" ->
              type.isNumber()
                  ? " `range` limits a number."
                  : FieldKeys.has("count", type) ? " `count` limits how many." : "";
          case "range" -> type.isWritten() ? " `length` limits a text." : "";
          case "decimals" -> type == Type.INTEGER ? " A whole number has none." : "";
          default -> "";
        };
    return Optional.of("`" + key + "` does not go with type " + type.word() + "." + instead);
  }
}
