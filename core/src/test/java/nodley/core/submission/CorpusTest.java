package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.form.Form;
import nodley.core.input.FormInput;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import org.junit.jupiter.api.DynamicContainer;
import org.junit.jupiter.api.DynamicNode;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import tools.jackson.databind.JsonNode;

/** Runs the corpus on the core: as JSON, and as form encoding where a submission is all text. */
class CorpusTest {

  @TestFactory
  Stream<DynamicNode> corpus() throws IOException {
    return Corpus.files().stream()
        .map(
            file ->
                DynamicContainer.dynamicContainer(
                    file.name(),
                    file.requests().stream()
                        .map(
                            request ->
                                DynamicTest.dynamicTest(
                                    request.why(),
                                    () -> run(file.form(), request.one(), input(request))))));
  }

  /** A case with {@code before} is an edit of a record that keeps these values. */
  private static Context context(Form form, JsonNode one) throws Unreadable {
    if (!one.has("before")) {
      return Corpus.CONTEXT;
    }
    byte[] before = one.path("before").toString().getBytes(StandardCharsets.UTF_8);
    Input kept = JsonInput.read(before, InputLimits.DEFAULT);
    return Corpus.CONTEXT.editing(
        "r1", Submission.check(form, kept, Corpus.CONTEXT, Lookups.NONE).values());
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
    assertThat(plain(Corpus.JSON.valueToTree(verdict.values().toJson())))
        .isEqualTo(plain(one.path("values")));
    assertThat(sentences).containsAllEntriesOf(texts(one.path("say")));
    assertThat(verdict.word()).isEqualTo(codes.isEmpty() ? "accepted" : "refused");
  }

  private static Input input(Corpus.Request request) throws Unreadable {
    byte[] body = request.body().getBytes(StandardCharsets.UTF_8);
    return request.type().equals(Corpus.FORM)
        ? FormInput.read(body, InputLimits.DEFAULT)
        : JsonInput.read(body, InputLimits.DEFAULT);
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
