package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
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
import nodley.core.input.FormInput;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import org.junit.jupiter.api.DynamicContainer;
import org.junit.jupiter.api.DynamicNode;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Runs the corpus on the core: as JSON, and as form encoding where a submission is all text. On its
 * way it leaves each form's description under target/corpus for the page's half of the same run,
 * and what is to be sent for the wire's.
 */
class CorpusTest {

  private static final String FORM = "application/x-www-form-urlencoded";

  private static final JsonMapper JSON =
      JsonMapper.builder().enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS).build();

  /** Noon of the first of March 2027, in Lisbon, which is on UTC then. */
  private static final Context CONTEXT =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneId.of("Europe/Lisbon")));

  @TestFactory
  Stream<DynamicNode> corpus() throws IOException {
    try (Stream<Path> files = Files.list(Repository.file("corpus"))) {
      return files.filter(file -> file.toString().endsWith(".json")).sorted().toList().stream()
          .map(CorpusTest::file);
    }
  }

  private static DynamicNode file(Path path) {
    try {
      JsonNode file = JSON.readTree(Files.readString(path));
      Form form =
          FormFile.read(
              file.path("form").toString(),
              Format.JSON,
              FormRegistry.alone(shared(file.path("shared"))));
      Path described = Repository.file("core/target/corpus").resolve(path.getFileName().toString());
      Files.createDirectories(described.getParent());
      Files.write(described, JSON.writeValueAsBytes(Description.of(form, 1, CONTEXT)));
      Path schema =
          Repository.file("core/target/corpus/schema").resolve(path.getFileName().toString());
      Files.createDirectories(schema.getParent());
      Files.write(schema, JSON.writeValueAsBytes(ValueSchema.of(form)));
      List<DynamicTest> tests = new ArrayList<>();
      ArrayNode requests = JSON.createArrayNode();
      for (JsonNode one : file.path("cases")) {
        String why = one.path("why").asString();
        if (one.has("encoded")) {
          String encoded = one.path("encoded").asString();
          requests.add(request(one, FORM, encoded));
          tests.add(DynamicTest.dynamicTest(why, () -> run(form, one, form(encoded))));
        } else {
          String body = one.path("in").toString();
          requests.add(request(one, "application/json", body));
          tests.add(
              DynamicTest.dynamicTest(
                  why,
                  () ->
                      run(
                          form,
                          one,
                          JsonInput.read(
                              body.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT))));
          if (isAllText(form, one.path("in"))) {
            requests.add(request(one, FORM, encoded(one.path("in"))));
            tests.add(
                DynamicTest.dynamicTest(
                    why + ", as form encoding",
                    () -> run(form, one, form(encoded(one.path("in"))))));
          }
        }
      }
      Path wire = Repository.file("core/target/corpus/wire").resolve(path.getFileName().toString());
      Files.createDirectories(wire.getParent());
      ObjectNode sent = JSON.createObjectNode();
      sent.set("form", file.path("form"));
      sent.set("shared", file.path("shared"));
      sent.set("requests", requests);
      Files.write(wire, JSON.writeValueAsBytes(sent));
      return DynamicContainer.dynamicContainer(path.getFileName().toString(), tests);
    } catch (IOException | FormFileException e) {
      throw new AssertionError(path.toString(), e);
    }
  }

  /** A case as the wire's half of the run sends it. */
  private static ObjectNode request(JsonNode one, String type, String body) {
    ObjectNode request = (ObjectNode) one.deepCopy();
    request.put("type", type);
    request.put("body", body);
    return request;
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

  /** A case with {@code before} is an edit of a record that keeps these values. */
  private static Context context(Form form, JsonNode one) throws Unreadable {
    if (!one.has("before")) {
      return CONTEXT;
    }
    byte[] before = one.path("before").toString().getBytes(StandardCharsets.UTF_8);
    Input kept = JsonInput.read(before, InputLimits.DEFAULT);
    return CONTEXT.editing("r1", Submission.check(form, kept, CONTEXT, Lookups.NONE).values());
  }

  private static void run(Form form, JsonNode one, Input input) throws Unreadable {
    Verdict verdict = Submission.check(form, input, context(form, one), Lookups.NONE);
    Map<String, String> codes = new LinkedHashMap<>();
    Map<String, String> sentences = new LinkedHashMap<>();
    for (FieldError error : verdict.errors()) {
      String name = error.pointer().replaceFirst("^#/", "");
      codes.put(name, error.code());
      sentences.put(name, error.detail());
    }
    assertThat(codes).isEqualTo(texts(one.path("errors")));
    assertThat(plain(JSON.valueToTree(verdict.values().toJson())))
        .isEqualTo(plain(one.path("values")));
    assertThat(sentences).containsAllEntriesOf(texts(one.path("say")));
    assertThat(verdict.word()).isEqualTo(codes.isEmpty() ? "accepted" : "refused");
  }

  private static Input form(String encoded) throws Exception {
    return FormInput.read(encoded.getBytes(StandardCharsets.US_ASCII), InputLimits.DEFAULT);
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

  private static Map<String, String> texts(JsonNode node) {
    return node.propertyStream()
        .collect(Collectors.toMap(Map.Entry::getKey, it -> it.getValue().asString()));
  }

  /** Numbers compare by value, in any notation; members in any order. */
  private static Object plain(JsonNode value) {
    if (value.isObject()) {
      return value
          .propertyStream()
          .collect(Collectors.toMap(Map.Entry::getKey, it -> plain(it.getValue())));
    }
    if (value.isArray()) {
      return value.valueStream().map(CorpusTest::plain).toList();
    }
    return value.isNumber()
        ? value.decimalValue().stripTrailingZeros().toPlainString()
        : value.toString();
  }
}
