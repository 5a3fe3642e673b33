package nodley.core.line;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.describe.Description;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.file.Surroundings;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.input.FormInput;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import org.junit.jupiter.api.DynamicContainer;
import org.junit.jupiter.api.DynamicNode;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Runs the corpus on the core: as JSON, and as form encoding where a submission is all text. On its
 * way it leaves each form's description under target/corpus, for the page's half of the same run.
 */
class CorpusTest {

  private static final JsonMapper JSON =
      JsonMapper.builder().enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS).build();

  @TestFactory
  Stream<DynamicNode> corpus() throws IOException {
    try (Stream<Path> files = Files.list(Path.of("../corpus"))) {
      return files.filter(file -> file.toString().endsWith(".json")).sorted().toList().stream()
          .map(CorpusTest::file);
    }
  }

  private static DynamicNode file(Path path) {
    try {
      JsonNode file = JSON.readTree(Files.readString(path));
      Form form = FormFile.read(file.path("form").toString(), Format.JSON, Surroundings.UNKNOWN);
      Path described = Path.of("target/corpus", path.getFileName().toString());
      Files.createDirectories(described.getParent());
      Files.write(described, JSON.writeValueAsBytes(Description.of(form, 1)));
      List<DynamicTest> tests = new ArrayList<>();
      for (JsonNode one : file.path("cases")) {
        String why = one.path("why").asString();
        if (one.has("encoded")) {
          String encoded = one.path("encoded").asString();
          tests.add(DynamicTest.dynamicTest(why, () -> run(form, one, form(encoded))));
        } else {
          String body = one.path("in").toString();
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
            tests.add(
                DynamicTest.dynamicTest(
                    why + ", as form encoding",
                    () -> run(form, one, form(encoded(one.path("in"))))));
          }
        }
      }
      return DynamicContainer.dynamicContainer(path.getFileName().toString(), tests);
    } catch (IOException | FormFileException e) {
      throw new AssertionError(path.toString(), e);
    }
  }

  private static void run(Form form, JsonNode one, Input input) {
    Verdict verdict = Submission.check(form, input, Context.ADD, Facts.NONE);
    Map<String, String> codes = new LinkedHashMap<>();
    Map<String, String> sentences = new LinkedHashMap<>();
    for (FieldError error : verdict.errors()) {
      String name = error.pointer().substring(2);
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
    return in.valueStream().allMatch(JsonNode::isString)
        && form.fields().stream().noneMatch(field -> field.type() == Type.BOOLEAN);
  }

  private static String encoded(JsonNode in) {
    return in.propertyStream()
        .map(
            it ->
                it.getKey()
                    + "="
                    + URLEncoder.encode(it.getValue().asString(), StandardCharsets.UTF_8))
        .collect(Collectors.joining("&"));
  }

  private static Map<String, String> texts(JsonNode node) {
    return node.propertyStream()
        .collect(Collectors.toMap(Map.Entry::getKey, it -> it.getValue().asString()));
  }

  /** Numbers compare by value, in any notation; members in any order. */
  private static Map<String, String> plain(JsonNode values) {
    return values
        .propertyStream()
        .collect(
            Collectors.toMap(
                Map.Entry::getKey,
                it ->
                    it.getValue().isNumber()
                        ? it.getValue().decimalValue().stripTrailingZeros().toPlainString()
                        : it.getValue().toString()));
  }
}
