package nodley.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import picocli.CommandLine;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.NullNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Values on the command line, {@code field=value}, as the JSON that is sent for them. Nested names
 * are {@code contact.email} and {@code crew[0].name}; choices are given several at once, {@code
 * tools=saw,drill}, or repeated; a file is {@code photo=@harbour.jpg}; a blank value is {@code
 * field=}.
 */
final class TypedValues {

  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Pattern STEP = Pattern.compile("(\\w+)(?:\\[([0-9]{1,5})])?(\\.(?=\\w)|$)");
  private static final Set<String> YES = Set.of("true", "on", "yes", "1");
  private static final Set<String> NO = Set.of("false", "off", "no", "0");

  private final JsonNode fields;
  private final CommandLine commands;
  private final FileUpload files;

  private TypedValues(JsonNode description, CommandLine commands, FileUpload files) {
    this.files = files;
    this.fields = description.path("fields");
    this.commands = commands;
  }

  /**
   * The values of an add or a check.
   *
   * @param description of the form, which says what is a box and what are choices
   * @param files uploads what is written {@code @FILE} for a field of files
   */
  static ObjectNode of(
      List<String> written, JsonNode description, CommandLine commands, FileUpload files) {
    return new TypedValues(description, commands, files).put(written, JSON.createObjectNode());
  }

  /** The values of a record with some of them changed, as an edit of the whole sends them. */
  static ObjectNode changed(
      JsonNode record,
      List<String> written,
      JsonNode description,
      CommandLine commands,
      FileUpload files) {
    ObjectNode values = (ObjectNode) record.path("values").deepCopy();
    record
        .path("rows")
        .propertyStream()
        .forEach(
            it -> ((ObjectNode) values.at(it.getKey().substring(1))).set("_row", it.getValue()));
    return new TypedValues(description, commands, files).put(written, values);
  }

  private ObjectNode put(List<String> written, ObjectNode values) {
    pairs(written)
        .forEach(
            (name, texts) -> {
              List<String> steps = steps(name);
              put(values, steps, value(name, field(steps), texts));
            });
    return values;
  }

  private Map<String, List<String>> pairs(List<String> written) {
    Map<String, List<String>> pairs = new LinkedHashMap<>();
    for (String pair : written) {
      int equals = pair.indexOf('=');
      if (equals < 1) {
        throw wrong("\"" + pair + "\" is not field=value, such as name='Grey Heron'.");
      }
      pairs
          .computeIfAbsent(pair.substring(0, equals), _ -> new ArrayList<>())
          .add(pair.substring(equals + 1));
    }
    return pairs;
  }

  private CommandLine.ParameterException wrong(String message) {
    return new CommandLine.ParameterException(commands, message);
  }

  /** The names and places of a nested name; a name that is not written so is one step. */
  private static List<String> steps(String name) {
    List<String> steps = new ArrayList<>();
    Matcher step = STEP.matcher(name);
    int end = 0;
    while (end < name.length() && step.find(end) && step.start() == end) {
      steps.add(step.group(1));
      if (step.group(2) != null) {
        steps.add("[" + step.group(2));
      }
      end = step.end();
    }
    return end == name.length() ? steps : List.of(name);
  }

  /** The declared field; nothing where the form has none, which the service will tell. */
  private Optional<JsonNode> field(List<String> steps) {
    Optional<JsonNode> found = Optional.empty();
    JsonNode beside = fields;
    for (String step : steps) {
      if (!step.startsWith("[")) {
        found =
            beside.valueStream().filter(it -> it.path("name").asString().equals(step)).findFirst();
        beside = found.map(it -> it.path("fields")).orElse(NullNode.getInstance());
      }
    }
    return found;
  }

  private JsonNode value(String name, Optional<JsonNode> field, List<String> texts) {
    String type = field.map(it -> it.path("type").asString()).orElse("");
    if (type.equals("choices")) {
      ArrayNode chosen = JSON.createArrayNode();
      for (String text : texts) {
        for (String option : text.split(",")) {
          if (!option.isBlank()) {
            chosen.add(option.strip());
          }
        }
      }
      return chosen;
    }
    if (type.equals("file")) {
      return file(name.replaceAll("\\[[0-9]*]", ""), field.get().has("count"), texts);
    }
    if (texts.size() > 1) {
      throw wrong("\"" + name + "\" is given twice.");
    }
    String text = texts.getFirst();
    String word = text.toLowerCase(Locale.ROOT);
    if (text.isEmpty()) {
      return NullNode.getInstance();
    }
    if (type.equals("boolean") && (YES.contains(word) || NO.contains(word))) {
      return JSON.valueToTree(YES.contains(word));
    }
    boolean nested = (type.equals("rows") || type.equals("group")) && !name.endsWith("]");
    if (nested) {
      return nested(name, text);
    }
    return JSON.valueToTree(text);
  }

  /** Files are written {@code @FILE}; what stands for one already, as it is. */
  private JsonNode file(String name, boolean many, List<String> texts) {
    ArrayNode values = JSON.createArrayNode();
    for (String text : texts) {
      if (text.startsWith("@")) {
        values.add(files.send(name, text.substring(1)));
      } else if (text.matches("(upload|sha256):.+")) {
        values.add(text);
      } else if (!text.isEmpty()) {
        throw wrong("\"" + name + "\" takes files: name one as " + name + "=@" + text + ".");
      }
    }
    if (many) {
      return values;
    }
    if (values.size() > 1) {
      throw wrong("\"" + name + "\" takes one file.");
    }
    return values.isEmpty() ? NullNode.getInstance() : values.get(0);
  }

  private JsonNode nested(String name, String text) {
    try {
      return JSON.readTree(text);
    } catch (JacksonException e) {
      throw wrong(
          "\""
              + name
              + "\" has fields inside: give them one by one, such as "
              + name
              + ".name=…, or "
              + name
              + "[0].name=… for rows; or all of it as JSON.");
    }
  }

  private void put(JsonNode holder, List<String> steps, JsonNode value) {
    String step = steps.getFirst();
    List<String> rest = steps.subList(1, steps.size());
    if (holder instanceof ArrayNode rows) {
      int place = Integer.parseInt(step.substring(1));
      while (rows.size() <= place) {
        rows.add(JSON.createObjectNode());
      }
      if (!rest.isEmpty() && !rows.get(place).isObject()) {
        rows.set(place, JSON.createObjectNode());
      }
      if (rest.isEmpty()) {
        rows.set(place, value);
      } else {
        put(rows.get(place), rest, value);
      }
      return;
    }
    ObjectNode members = (ObjectNode) holder;
    if (rest.isEmpty()) {
      members.set(step, value);
      return;
    }
    boolean rows = rest.getFirst().startsWith("[");
    JsonNode inside = members.path(step);
    if (rows ? !inside.isArray() : !inside.isObject()) {
      inside = rows ? JSON.createArrayNode() : JSON.createObjectNode();
      members.set(step, inside);
    }
    put(inside, rest, value);
  }
}
