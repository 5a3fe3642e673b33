package nodley.begin;

import java.text.Normalizer;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import nodley.core.name.FieldName;
import nodley.core.name.Words;

/** Fields side by side, under names that a form file may have. */
final class FieldsSketch {

  final Map<String, FieldSketch> byName = new LinkedHashMap<>();

  /** A field for what is called so elsewhere; if it needs another name, a comment says so. */
  FieldSketch add(String original) {
    String name = free(legal(original));
    FieldSketch field = new FieldSketch(name);
    if (!name.equals(original)) {
      field.say("There it is called " + shown(original) + ".");
    }
    byName.put(name, field);
    return field;
  }

  /** The same, where what it is called is also what people read. */
  FieldSketch addLabelled(String title) {
    String name = free(legal(title));
    FieldSketch field = new FieldSketch(name);
    // A name for machines, such as home_team, is no label; one in capitals is read as it stands.
    boolean machine = title.strip().matches("[a-z0-9]+([_-][a-z0-9]+)+|[a-z]+[A-Za-z0-9]*");
    if (!machine && !Words.of(name).equals(title.strip()) && !title.isBlank()) {
      field.put("label", title.strip().replaceAll("\\s+", " "));
    }
    byName.put(name, field);
    return field;
  }

  private static String shown(String original) {
    return "`" + original.replaceAll("[\\p{Cntrl}`]+", " ") + "`";
  }

  /** {@code Call sign} and {@code call-sign} become callSign; {@code call_sign} may stay. */
  static String legal(String original) {
    if (FieldName.isWrittenSo(original)) {
      return original;
    }
    String bare =
        Normalizer.normalize(original.replace("ß", "ss"), Normalizer.Form.NFKD)
            .replaceAll("\\p{M}+", "");
    String[] words = bare.replaceAll("[^A-Za-z0-9]+", " ").strip().split(" ");
    String name =
        Arrays.stream(words)
            .filter(word -> !word.isEmpty())
            .map(
                word ->
                    word.equals(word.toUpperCase(Locale.ROOT))
                        ? word.toLowerCase(Locale.ROOT)
                        : word)
            .map(word -> word.substring(0, 1).toUpperCase(Locale.ROOT) + word.substring(1))
            .collect(Collectors.joining());
    if (name.isEmpty() || Character.isDigit(name.charAt(0))) {
      name = "Field" + name;
    }
    name = name.substring(0, 1).toLowerCase(Locale.ROOT) + name.substring(1);
    return name.substring(0, Math.min(name.length(), FieldName.LONGEST));
  }

  private String free(String name) {
    String candidate =
        FieldName.isBarred(name.toLowerCase(Locale.ROOT)) ? cut(name, "Value") : name;
    for (int i = 2; isTaken(candidate); i++) {
      candidate = cut(name, Integer.toString(i));
    }
    return candidate;
  }

  private boolean isTaken(String name) {
    return byName.keySet().stream().anyMatch(name::equalsIgnoreCase);
  }

  private static String cut(String name, String ending) {
    return name.substring(0, Math.min(name.length(), FieldName.LONGEST - ending.length())) + ending;
  }
}
