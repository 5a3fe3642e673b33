package nodley.core.submission;

import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.core.Repository;
import nodley.core.describe.Description;
import nodley.core.describe.ValueSchema;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.ListFile;
import nodley.core.file.PartFile;
import nodley.core.file.Shared;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** The cases in corpus/, which core, page and wire run. */
public final class Corpus {

  static final String FORM = "application/x-www-form-urlencoded";

  static final JsonMapper JSON =
      JsonMapper.builder().enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS).build();

  /** Noon of the first of March 2027, in Lisbon, which is on UTC then. */
  static final Context CONTEXT =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneId.of("Europe/Lisbon")));

  private Corpus() {}

  /**
   * A file of the corpus.
   *
   * @param form the form that it begins with
   * @param json all of it
   */
  record CorpusFile(String name, Form form, JsonNode json) {

    /** Its cases in each encoding that can say them. */
    List<Request> requests() {
      List<Request> requests = new ArrayList<>();
      for (JsonNode one : json.path("cases")) {
        String why = one.path("why").asString();
        if (one.has("encoded")) {
          requests.add(new Request(one, why, FORM, one.path("encoded").asString()));
          continue;
        }
        JsonNode in = one.path("in");
        requests.add(new Request(one, why, "application/json", in.toString()));
        if (isAllText(form, in)) {
          requests.add(new Request(one, why + ", as form encoding", FORM, encoded(in)));
        }
      }
      return requests;
    }
  }

  /** One case as it is sent. */
  record Request(JsonNode one, String why, String type, String body) {}

  static List<CorpusFile> files() throws IOException {
    try (Stream<Path> files = Files.list(Repository.file("corpus"))) {
      return files
          .filter(file -> file.toString().endsWith(".json"))
          .sorted()
          .map(Corpus::file)
          .toList();
    }
  }

  private static CorpusFile file(Path path) {
    try {
      JsonNode file = JSON.readTree(Files.readString(path));
      Form form =
          FormFile.read(
              file.path("form").toString(),
              Format.JSON,
              FormRegistry.alone(shared(file.path("shared"))));
      return new CorpusFile(path.getFileName().toString(), form, file);
    } catch (IOException | FormFileException e) {
      throw new AssertionError(path.toString(), e);
    }
  }

  /**
   * Writes what others need to run the corpus: the description of each form for the page, the JSON
   * Schema of its values, and what is to be sent over the wire.
   */
  public static void write(Path to) throws IOException {
    Path schemas = Files.createDirectories(to.resolve("schema"));
    Path wire = Files.createDirectories(to.resolve("wire"));
    for (CorpusFile file : files()) {
      Files.write(
          to.resolve(file.name()), JSON.writeValueAsBytes(Description.of(file.form(), 1, CONTEXT)));
      Files.write(
          schemas.resolve(file.name()), JSON.writeValueAsBytes(ValueSchema.of(file.form())));
      ArrayNode requests = JSON.createArrayNode();
      for (Request request : file.requests()) {
        ObjectNode one = (ObjectNode) request.one().deepCopy();
        one.put("type", request.type());
        one.put("body", request.body());
        requests.add(one);
      }
      ObjectNode sent = JSON.createObjectNode();
      sent.set("form", file.json().path("form"));
      sent.set("shared", file.json().path("shared"));
      sent.set("requests", requests);
      Files.write(wire.resolve(file.name()), JSON.writeValueAsBytes(sent));
    }
  }

  private static Shared shared(JsonNode node) throws FormFileException {
    Shared shared = Shared.NONE;
    for (JsonNode list : node.path("lists")) {
      shared = shared.with(ListFile.read(list.toString(), Format.JSON, Optional.empty()));
    }
    for (JsonNode part : node.path("parts")) {
      shared =
          shared.with(
              PartFile.read(
                  part.toString(), Format.JSON, Optional.empty(), FormRegistry.alone(shared)));
    }
    return shared;
  }

  /** A form with booleans is left out: in form encoding an absent one is not blank but false. */
  private static boolean isAllText(Form form, JsonNode in) {
    return isAllText(form.fields(), in)
        && form.everyField().stream().noneMatch(it -> it.field().type() == Type.BOOLEAN);
  }

  /** Lists of texts have a place in form encoding only as choices; empty ones have none. */
  private static boolean isAllText(Fields fields, JsonNode in) {
    return in.propertyStream()
        .allMatch(
            it -> {
              JsonNode value = it.getValue();
              Field field = fields.find(it.getKey()).orElse(null);
              if (field == null || value.isString() && field.type() != Type.CHOICES) {
                return value.isString();
              }
              return switch (field.type()) {
                case GROUP -> value.isObject() && isAllText(field.fields(), value);
                case ROWS ->
                    value.isArray()
                        && value
                            .valueStream()
                            .allMatch(
                                row ->
                                    row.isObject()
                                        && !row.isEmpty()
                                        && isAllText(field.fields(), row));
                case CHOICES -> value.isArray() && value.valueStream().allMatch(JsonNode::isString);
                default -> false;
              };
            });
  }

  private static String encoded(JsonNode in) {
    List<String> pairs = new ArrayList<>();
    in.propertyStream().forEach(it -> encode(it.getKey(), it.getValue(), pairs));
    return String.join("&", pairs);
  }

  private static void encode(String name, JsonNode value, List<String> pairs) {
    if (value.isObject()) {
      value.propertyStream().forEach(it -> encode(name + "." + it.getKey(), it.getValue(), pairs));
    } else if (value.isArray()) {
      for (int i = 0; i < value.size(); i++) {
        // Options repeat their name; rows have an index.
        boolean row = value.get(i).isObject();
        encode(row ? name + "[" + i + "]" : name, value.get(i), pairs);
      }
    } else {
      pairs.add(
          URLEncoder.encode(name, StandardCharsets.UTF_8)
              + "="
              + URLEncoder.encode(value.asString(), StandardCharsets.UTF_8));
    }
  }
}
