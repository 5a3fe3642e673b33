package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Adds and checks go past the filters and the dispatcher of Spring. The same call with a letter of
 * its address percent-encoded goes through them (RFC 3986, section 6.2.2.2, makes them one
 * address), and must be answered alike: for every access of a form, every caller, and every sort of
 * body.
 */
class FastPathTest {

  private static final HttpClient HTTP = HttpClient.newHttpClient();
  private static final String KEY = "Bearer " + RunningService.KEY;

  /** What differs from one call to the next: ids, times, and the address itself. */
  private static final String VOLATILE =
      "[0-9a-f]{8}-[0-9a-f-]{27}|\\d{4}-\\d\\d-\\d\\dT[0-9:.]+Z|vess%65l|vessel";

  private static final Set<String> VOLATILE_HEADERS = Set.of("date", "x-request-id", "location");

  private static RunningService service;
  private static String session;

  @BeforeAll
  static void start() throws IOException, InterruptedException {
    service = RunningService.fresh();
    for (String add : List.of("anyone", "signed-in")) {
      for (String edit : List.of("anyone", "signed-in")) {
        service
            .wire()
            .publish(
                "vessel-" + add.charAt(0) + edit.charAt(0),
                """
                form: vessel-%s%s
                access: { add: %s, see: anyone, edit: %s }
                origins: ["https://club.example"]
                fields: { name: { type: text, required: true, length: ..8 } }
                """
                    .formatted(add.charAt(0), edit.charAt(0), add, edit));
      }
    }
    HttpResponse<String> signedIn =
        HTTP.send(
            HttpRequest.newBuilder(URI.create(service.address() + "/api/session"))
                .header("Content-Type", Wire.JSON_TYPE)
                .POST(BodyPublishers.ofString("{\"key\": \"" + RunningService.KEY + "\"}"))
                .build(),
            BodyHandlers.ofString());
    session = signedIn.headers().firstValue("Set-Cookie").orElseThrow().replaceFirst(";.*", "");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  static Stream<Arguments> calls() {
    List<String> bodies =
        List.of(
            "{\"name\": \"Tern\"}",
            "{}",
            "{\"name\": \"longer than eight\"}",
            "{\"name\": \"Tern\", \"nmae\": 1}",
            "{\"name\":",
            "");
    return Stream.of("aa", "as", "sa", "ss")
        .flatMap(
            access ->
                Stream.of("checks", "checks?fields=name", "checks?fields=nmae", "records")
                    .flatMap(
                        call -> bodies.stream().map(body -> Arguments.of(access, call, body))));
  }

  static Map<String, List<String>> callers() {
    return Map.of(
        "a stranger", List.of(),
        "a program", List.of("Authorization", KEY),
        "an unknown key", List.of("Authorization", "Bearer nobody"),
        "a person", List.of("Cookie", session, "Sec-Fetch-Site", "same-origin"),
        "a person, from another site", List.of("Cookie", session, "Sec-Fetch-Site", "cross-site"),
        "an allowed origin", List.of("Origin", "https://club.example"),
        "a foreign origin", List.of("Origin", "https://evil.example"),
        "another type", List.of("Content-Type", "text/plain"));
  }

  @ParameterizedTest
  @MethodSource("calls")
  void isAnsweredAsByTheWholeChain(String access, String call, String body)
      throws IOException, InterruptedException {
    for (Map.Entry<String, List<String>> caller : callers().entrySet()) {
      String fast = answer("/api/forms/vessel-" + access + "/" + call, body, caller.getValue());
      String whole = answer("/api/forms/vess%65l-" + access + "/" + call, body, caller.getValue());
      assertThat(fast).as(caller.getKey()).isEqualTo(whole);
    }
  }

  /** Status, headers in their order by name, and body. */
  private static String answer(String path, String body, List<String> headers)
      throws IOException, InterruptedException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(service.address() + path))
            .POST(BodyPublishers.ofString(body));
    if (!headers.contains("Content-Type")) {
      request.header("Content-Type", Wire.JSON_TYPE);
    }
    if (!headers.isEmpty()) {
      request.headers(headers.toArray(String[]::new));
    }
    HttpResponse<String> response = HTTP.send(request.build(), BodyHandlers.ofString());
    Map<String, List<String>> told = new TreeMap<>(response.headers().map());
    told.keySet().removeIf(VOLATILE_HEADERS::contains);
    return (response.statusCode() + "\n" + told + "\n" + response.body())
        .replaceAll(VOLATILE, "#")
        .replaceAll("content-length=\\[\\d+]", "")
        // The seconds that somebody with too many wrong keys has to wait run on.
        .replaceAll("retry-after=\\[\\d+]|in \\d+ seconds", "later");
  }
}
