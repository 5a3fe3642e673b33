package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.zip.GZIPInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What goes over the wire is compressed where the caller takes that (RFC 9110, section 8.4). */
class CompressionTest {

  private static RunningService service;
  private static final HttpClient CLIENT = HttpClient.newHttpClient();

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publishWholeDemo();
  }

  @AfterAll
  static void stop() {
    CLIENT.close();
    service.close();
  }

  private static HttpResponse<byte[]> get(String path, String encoding) throws Exception {
    HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(service.address() + path));
    if (!encoding.isEmpty()) {
      request.header("Accept-Encoding", encoding);
    }
    return CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
  }

  private static String header(HttpResponse<?> response, String name) {
    return String.join(", ", response.headers().allValues(name));
  }

  private static String unzipped(HttpResponse<byte[]> response) throws IOException {
    try (var in = new GZIPInputStream(new ByteArrayInputStream(response.body()))) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "/page/nodley.js",
        "/page/nodley.css",
        "/api/forms/visit",
        "/api/forms/visit/schema",
        "/forms",
        "/page/themes/service.css",
        "/console/forms"
      })
  void aTextIsTheSameCompressed(String path) throws Exception {
    HttpResponse<byte[]> plain = get(path, "");
    HttpResponse<byte[]> zipped = get(path, "gzip");
    assertThat(header(plain, "Content-Encoding")).isEmpty();
    if (plain.body().length >= 1_024) {
      assertThat(header(zipped, "Content-Encoding")).isEqualTo("gzip");
      assertThat(zipped.body().length).isLessThan(plain.body().length / 2 + 200);
      assertThat(unzipped(zipped)).isEqualTo(new String(plain.body(), StandardCharsets.UTF_8));
      assertThat(String.join(",", zipped.headers().allValues("Vary")).toLowerCase(Locale.ROOT))
          .contains("accept-encoding");
    } else {
      assertThat(header(zipped, "Content-Encoding")).isEmpty();
    }
  }

  @Test
  void scriptsAreThereInBrotliToo() throws Exception {
    HttpResponse<byte[]> script = get("/page/nodley.js", "gzip, deflate, br");
    assertThat(header(script, "Content-Encoding")).isEqualTo("br");
    assertThat(header(get("/page/nodley.js", "br;q=0, gzip"), "Content-Encoding"))
        .isEqualTo("gzip");
    assertThat(header(script, "Content-Type")).startsWith("text/javascript");
    assertThat(script.body().length).isLessThan(20_000);
    assertThat(get("/page/nodley.js", "gzip").body().length).isLessThan(20_000);
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/vessel/new");
      Object size =
          browser
              .driver()
              .executeScript(
                  "return performance.getEntriesByType('resource')"
                      + ".find(it => it.name.endsWith('/page/nodley.js')).encodedBodySize");
      assertThat(((Number) size).intValue()).isEqualTo(script.body().length);
    }
  }

  /** Their names have a digest of what is in them. */
  @Test
  void filesOfTheConsoleNeedNeverBeAskedForAgain() throws Exception {
    String page = new String(get("/console", "").body(), StandardCharsets.UTF_8);
    Matcher script = Pattern.compile("/console/assets/index-[^\"]+\\.js").matcher(page);
    assertThat(script.find()).isTrue();
    HttpResponse<byte[]> reply = get(script.group(), "br");
    assertThat(header(reply, "Cache-Control")).contains("max-age=31536000", "immutable");
    assertThat(header(reply, "Content-Encoding")).isEqualTo("br");
    assertThat(header(get("/page/nodley.js", ""), "Cache-Control")).isEqualTo("no-cache");
    assertThat(get("/console/assets/index-none.js", "br").statusCode()).isEqualTo(404);
  }

  @Test
  void aFileThatHasNotChangedIsNotSentAgain() throws Exception {
    HttpResponse<byte[]> script = get("/page/nodley.js", "br");
    HttpRequest again =
        HttpRequest.newBuilder(URI.create(service.address() + "/page/nodley.js"))
            .header("Accept-Encoding", "br")
            .header("If-Modified-Since", header(script, "Last-Modified"))
            .build();
    assertThat(CLIENT.send(again, HttpResponse.BodyHandlers.discarding()).statusCode())
        .isEqualTo(304);
  }
}
