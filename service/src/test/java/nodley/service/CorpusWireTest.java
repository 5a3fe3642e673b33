package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DynamicContainer;
import org.junit.jupiter.api.DynamicNode;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The corpus over the wire, as JSON and as form encoding; the core's build has written what is to
 * be sent. An edit is one of a record that was added with what stands before it.
 */
class CorpusWireTest {

  private static final Path CORPUS = Repository.file("core/target/corpus/wire");

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service =
        RunningService.at(
            Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneId.of("Europe/Lisbon")));
    wire = service.wire();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  @TestFactory
  Stream<DynamicNode> corpus() throws IOException {
    try (Stream<Path> files = Files.list(CORPUS)) {
      return files.sorted().toList().stream().map(CorpusWireTest::file);
    }
  }

  private static DynamicNode file(Path path) {
    JsonNode file = read(path);
    String form = file.path("form").path("form").asString();
    for (String kind : new String[] {"lists", "parts"}) {
      for (JsonNode shared : file.path("shared").path(kind)) {
        String name = shared.path(kind.substring(0, kind.length() - 1)).asString();
        assertThat(
                wire.put("/api/" + kind + "/" + name, Wire.JSON_TYPE, shared.toString()).status())
            .isEqualTo(201);
      }
    }
    Wire.Reply published =
        wire.put("/api/forms/" + form, Wire.JSON_TYPE, file.path("form").toString());
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    return DynamicContainer.dynamicContainer(
        path.getFileName().toString(),
        StreamSupport.stream(file.path("requests").spliterator(), false)
            .filter(one -> !one.has("before") || isAddable(form, one))
            .map(
                one ->
                    DynamicTest.dynamicTest(
                        one.path("why").asString() + ", " + one.path("type").asString(),
                        () -> run(form, one))));
  }

  private static JsonNode read(Path path) {
    try {
      return JsonMapper.shared().readTree(Files.readAllBytes(path));
    } catch (IOException e) {
      throw new AssertionError(e);
    }
  }

  /** Some records could only have come about earlier: by another clock, or another list. */
  private static boolean isAddable(String form, JsonNode one) {
    return wire.post(
            "/api/forms/" + form + "/checks", Wire.JSON_TYPE, one.path("before").toString())
        .json()
        .path("verdict")
        .asString()
        .equals("accepted");
  }

  private static void run(String form, JsonNode one) {
    String query = "";
    if (one.has("before")) {
      Wire.Reply added =
          wire.post(
              "/api/forms/" + form + "/records", Wire.JSON_TYPE, one.path("before").toString());
      query =
          "?record="
              + URLEncoder.encode(added.json().path("id").asString(), StandardCharsets.UTF_8);
    }
    Wire.Reply reply =
        wire.post(
            "/api/forms/" + form + "/checks" + query,
            one.path("type").asString(),
            one.path("body").asString());
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
    Map<String, String> codes = new TreeMap<>();
    Map<String, String> sentences = new TreeMap<>();
    for (JsonNode error : reply.json().path("errors")) {
      String name = error.path("pointer").asString().replaceFirst("^#/", "");
      codes.put(name, error.path("code").asString());
      sentences.put(name, error.path("detail").asString());
    }
    assertThat(codes).isEqualTo(texts(one.path("errors")));
    assertThat(plain(reply.json().path("values"))).isEqualTo(plain(one.path("values")));
    assertThat(sentences).containsAllEntriesOf(texts(one.path("say")));
  }

  private static Map<String, String> texts(JsonNode node) {
    Map<String, String> texts = new TreeMap<>();
    node.propertyStream().forEach(it -> texts.put(it.getKey(), it.getValue().asString()));
    return texts;
  }

  /** Numbers compare by value, in any notation; members in any order. */
  private static Object plain(JsonNode node) {
    if (node.isObject()) {
      Map<String, Object> members = new TreeMap<>();
      node.propertyStream().forEach(it -> members.put(it.getKey(), plain(it.getValue())));
      return members;
    }
    if (node.isArray()) {
      return node.valueStream().map(CorpusWireTest::plain).toList();
    }
    return node.isNumber() ? (Object) (node.doubleValue() + 0.0) : node.toString();
  }
}
