package nodley.begin;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.file.FormFile;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A form begun from a schema and the schema itself, by ajv, judge the same instances: where they
 * differ, a comment beside the field says so.
 */
class SchemaVerdictsTest {

  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Context NOW = Context.add(Clock.systemUTC());

  /** One property of a base instance that is left out, or has another value. */
  private record Changed(String property, ObjectNode instance) {}

  @Test
  void aFormTakesWhatItsSchemaTakesOrSaysWhereItDoesNot() throws Exception {
    JsonNode all = resource("schemas.json");
    List<List<Changed>> instances = new ArrayList<>();
    ArrayNode asked = JSON.createArrayNode();
    for (JsonNode one : all) {
      List<Changed> changed = changed(one);
      instances.add(changed);
      ObjectNode question = asked.addObject();
      question.set("schema", one.path("schema"));
      ArrayNode list = question.putArray("instances");
      changed.forEach(it -> list.add(it.instance()));
    }
    JsonNode told = ajv(asked);
    List<String> differences = new ArrayList<>();
    for (int i = 0; i < all.size(); i++) {
      byte[] schema = all.get(i).path("schema").toString().getBytes(StandardCharsets.UTF_8);
      Sketch sketch = FromSchema.read("boat", new SourceFile("schema.json", schema));
      Form form = FormFile.read(sketch.yaml());
      assertThat(told.get(i).get(0).asBoolean()).as("the base of schema %d", i).isTrue();
      for (int j = 0; j < instances.get(i).size(); j++) {
        Changed one = instances.get(i).get(j);
        boolean commented =
            Optional.ofNullable(sketch.fields.byName.get(one.property()))
                .filter(SchemaVerdictsTest::isCommented)
                .isPresent();
        List<String> errors = errors(form, one);
        if (errors.isEmpty() != told.get(i).get(j).asBoolean() && !commented) {
          differences.add(i + " " + one.property() + " " + errors + " " + one.instance());
        }
      }
    }
    assertThat(differences).isEmpty();
  }

  private static boolean isCommented(FieldSketch field) {
    return !field.comments.isEmpty()
        || field.inside.byName.values().stream().anyMatch(SchemaVerdictsTest::isCommented);
  }

  /** For each property the base, the base without it, and with each other value to be tried. */
  private static List<Changed> changed(JsonNode one) {
    ObjectNode base = (ObjectNode) one.path("base");
    List<Changed> changed = new ArrayList<>();
    for (String property : base.propertyNames()) {
      ObjectNode without = base.deepCopy();
      without.remove(property);
      changed.add(new Changed(property, base));
      changed.add(new Changed(property, without));
      for (JsonNode value : one.path("try").path(property)) {
        ObjectNode with = base.deepCopy();
        with.set(property, value);
        changed.add(new Changed(property, with));
      }
    }
    return changed;
  }

  /** What the form says of the property that was changed. */
  private static List<String> errors(Form form, Changed one) throws Exception {
    byte[] body =
        written(form.fields(), one.instance()).toString().getBytes(StandardCharsets.UTF_8);
    return Submission.check(form, JsonInput.read(body, InputLimits.DEFAULT), NOW, Lookups.NONE)
        .errors()
        .stream()
        .filter(it -> (it.pointer() + "/").startsWith("#/" + one.property() + "/"))
        .map(it -> it.pointer() + " " + it.code())
        .toList();
  }

  /** The instance as the form takes it: options are texts, and single values in lists are rows. */
  private static JsonNode written(Fields fields, JsonNode values) {
    ObjectNode written = JSON.createObjectNode();
    values
        .propertyStream()
        .forEach(
            it ->
                written.set(
                    it.getKey(),
                    fields
                        .find(it.getKey())
                        .map(field -> written(field, it.getValue()))
                        .orElse(it.getValue())));
    return written;
  }

  private static JsonNode written(Field field, JsonNode value) {
    return switch (field.type()) {
      case CHOICE -> JSON.getNodeFactory().stringNode(value.asString());
      case GROUP -> written(field.fields(), value);
      case ROWS -> {
        ArrayNode rows = JSON.createArrayNode();
        for (JsonNode row : value) {
          rows.add(
              row.isObject()
                  ? written(field.fields(), row)
                  : JSON.createObjectNode().set("value", row));
        }
        yield rows;
      }
      default -> value;
    };
  }

  private static JsonNode ajv(JsonNode asked) throws Exception {
    Path script = Path.of(SchemaVerdictsTest.class.getResource("/begin/ajv.mjs").toURI());
    Path modules = Path.of("../web/package.json").toAbsolutePath().normalize();
    Process node =
        new ProcessBuilder("node", script.toString(), modules.toString())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    try (var to = node.getOutputStream()) {
      to.write(asked.toString().getBytes(StandardCharsets.UTF_8));
    }
    JsonNode told = JSON.readTree(node.getInputStream().readAllBytes());
    assertThat(node.waitFor()).isZero();
    return told;
  }

  private static JsonNode resource(String name) throws Exception {
    return JSON.readTree(SchemaVerdictsTest.class.getResourceAsStream("/begin/" + name));
  }
}
