package nodley.begin;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import tools.jackson.databind.json.JsonMapper;

/** Writes values in YAML's flow style; what is not plain to every reader is quoted as in JSON. */
final class Yaml {

  private static final Set<String> WORDS =
      Set.of("true", "false", "yes", "no", "on", "off", "null", "y", "n");

  private Yaml() {}

  static String flow(Object value) {
    return switch (value) {
      case Map<?, ?> map ->
          map.entrySet().stream()
              .map(it -> scalar(it.getKey().toString()) + ": " + flow(it.getValue()))
              .collect(Collectors.joining(", ", "{ ", " }"));
      case List<?> list ->
          list.stream().map(Yaml::flow).collect(Collectors.joining(", ", "[", "]"));
      case String text -> scalar(text);
      default -> value.toString();
    };
  }

  static String scalar(String text) {
    boolean span = text.matches("[-0-9.:]*\\.\\.[-0-9.:]*");
    boolean plain =
        text.matches("[A-Za-z][A-Za-z0-9_ /()-]*[A-Za-z0-9)]|[A-Za-z]")
            && !WORDS.contains(text.toLowerCase(java.util.Locale.ROOT));
    boolean number = text.matches("-?(0|[1-9][0-9]*)(\\.[0-9]+)?");
    return plain || span || number ? text : JsonMapper.shared().writeValueAsString(text);
  }
}
