package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
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
    if (value.isObject()) {
      String prefix = name.isEmpty() ? "" : name + ".";
      value
          .propertyStream()
          .forEach(member -> collect(prefix + member.getKey(), member.getValue(), lines));
    } else if (value.isArray() && value.valueStream().anyMatch(JsonNode::isContainer)) {
      for (int i = 0; i < value.size(); i++) {
        collect(name + "[" + i + "]", value.get(i), lines);
      }
    } else {
      lines.add(List.of("  " + name, text(value)));
    }
  }

  /** All of a value in one line: choices one after the other, rows with their names. */
  static String text(JsonNode value) {
    if (value.isArray()) {
      boolean rows = value.valueStream().anyMatch(JsonNode::isContainer);
      return value
          .valueStream()
          .map(FieldValues::text)
          .collect(Collectors.joining(rows ? "; " : ", "));
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
