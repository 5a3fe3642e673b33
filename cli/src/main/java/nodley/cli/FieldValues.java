package nodley.cli;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine;
import tools.jackson.databind.JsonNode;

/** Values on the command line: {@code field=value}, a blank value written {@code field=}. */
final class FieldValues {

  private FieldValues() {}

  static Map<String, String> of(List<String> written, CommandLine commands) {
    Map<String, String> values = new LinkedHashMap<>();
    for (String pair : written) {
      int equals = pair.indexOf('=');
      if (equals < 1) {
        throw new CommandLine.ParameterException(
            commands, "\"" + pair + "\" is not field=value, such as name='Grey Heron'.");
      }
      String name = pair.substring(0, equals);
      if (values.put(name, pair.substring(equals + 1)) != null) {
        throw new CommandLine.ParameterException(commands, "\"" + name + "\" is given twice.");
      }
    }
    return values;
  }

  /** The values of a record, as if they had been typed. */
  static Map<String, String> of(JsonNode record) {
    Map<String, String> values = new LinkedHashMap<>();
    record
        .path("values")
        .propertyStream()
        .forEach(entry -> values.put(entry.getKey(), text(entry.getValue())));
    return values;
  }

  static String text(JsonNode value) {
    return value.isBigDecimal() || value.isDouble()
        ? value.decimalValue().toPlainString()
        : value.asString();
  }
}
