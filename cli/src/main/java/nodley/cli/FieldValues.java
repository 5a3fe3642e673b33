package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import nodley.core.value.ByteSize;
import tools.jackson.databind.JsonNode;

/** Prints the values of a record for people. */
final class FieldValues {

  private FieldValues() {}

  /** One line for each value: its name, such as {@code crew[0].name}, and its text. */
  static List<List<String>> lines(JsonNode values) {
    List<List<String>> lines = new ArrayList<>();
    collect("", values, lines);
    return lines;
  }

  private static void collect(String name, JsonNode value, List<List<String>> lines) {
    if (value.isObject() && !isFile(value)) {
      String prefix = name.isEmpty() ? "" : name + ".";
      value
          .propertyStream()
          .forEach(member -> collect(prefix + member.getKey(), member.getValue(), lines));
    } else if (value.isArray()
        && value.valueStream().anyMatch(it -> it.isContainer() && !isFile(it))) {
      for (int i = 0; i < value.size(); i++) {
        collect(name + "[" + i + "]", value.get(i), lines);
      }
    } else {
      lines.add(List.of("  " + name, text(value)));
    }
  }

  private static boolean isFile(JsonNode value) {
    return value.isObject() && value.has("sha256") && value.has("href");
  }

  /** All of a value in one line: choices one after the other, rows with their names. */
  static String text(JsonNode value) {
    if (value.isArray()) {
      boolean rows = value.valueStream().anyMatch(it -> it.isContainer() && !isFile(it));
      return value
          .valueStream()
          .map(FieldValues::text)
          .collect(Collectors.joining(rows ? "; " : ", "));
    }
    if (isFile(value)) {
      return value.path("name").asString()
          + " ("
          + ByteSize.shown(value.path("size").asLong())
          + ")";
    }
    if (value.isObject()) {
      return value
          .propertyStream()
          .map(member -> member.getKey() + " " + text(member.getValue()))
          .collect(Collectors.joining(", "));
    }
    return value.isBigDecimal() || value.isDouble()
        ? value.decimalValue().toPlainString()
        : value.asString();
  }
}
