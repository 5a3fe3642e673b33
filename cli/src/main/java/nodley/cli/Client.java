package nodley.cli;

import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Speaks with the service. */
final class Client {

  private static final Duration CONNECT = Duration.ofSeconds(5);
  private static final Duration REPLY = Duration.ofSeconds(60);
  private static final JsonMapper JSON = JsonMapper.shared();

  private final HttpClient http = HttpClient.newBuilder().connectTimeout(CONNECT).build();
  private final String at;
  private final Optional<String> key;
  private final boolean json;

  Client(String at, Optional<String> key, boolean json) {
    this.at = at;
    this.key = key;
    this.json = json;
  }

  JsonNode get(String path) {
    return send(request(path).GET());
  }

  /** Sends values as form encoding, in which booleans and numbers are words too. */
  JsonNode post(String path, Map<String, String> values) {
    return send(
        request(path)
            .header("Content-Type", "application/x-www-form-urlencoded")
            .POST(HttpRequest.BodyPublishers.ofString(encoded(values))));
  }

  JsonNode put(String path, Map<String, String> values, long version) {
    return send(
        request(path)
            .header("Content-Type", "application/x-www-form-urlencoded")
            .header("If-Match", "\"" + version + "\"")
            .PUT(HttpRequest.BodyPublishers.ofString(encoded(values))));
  }

  JsonNode putFile(String path, String mediaType, byte[] file) {
    return send(
        request(path)
            .header("Content-Type", mediaType)
            .PUT(HttpRequest.BodyPublishers.ofByteArray(file)));
  }

  void delete(String path, long version) {
    send(request(path).header("If-Match", "\"" + version + "\"").DELETE());
  }

  /** One part of a path, such as a name that a person typed. */
  static String part(String name) {
    return URLEncoder.encode(name, StandardCharsets.UTF_8).replace("+", "%20");
  }

  private static String encoded(Map<String, String> values) {
    return values.entrySet().stream()
        .map(
            entry ->
                URLEncoder.encode(entry.getKey(), StandardCharsets.UTF_8)
                    + "="
                    + URLEncoder.encode(entry.getValue(), StandardCharsets.UTF_8))
        .collect(Collectors.joining("&"));
  }

  private HttpRequest.Builder request(String path) {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(at + "/api" + path)).timeout(REPLY);
    key.ifPresent(it -> request.header("Authorization", "Bearer " + it));
    return request;
  }

  private JsonNode send(HttpRequest.Builder request) {
    HttpResponse<String> response;
    try {
      response = http.send(request.build(), HttpResponse.BodyHandlers.ofString());
    } catch (IOException e) {
      throw new Unreached(
          "Cannot reach Nodley at " + at + ". Is it running there? Start it with: nodley serve");
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new Unreached("Stopped while waiting for " + at + ".");
    }
    JsonNode reply = parse(response);
    if (response.statusCode() >= 400) {
      throw new Told(reply, json);
    }
    return reply;
  }

  private JsonNode parse(HttpResponse<String> response) {
    if (response.statusCode() == 204) {
      return JSON.createObjectNode();
    }
    String type = response.headers().firstValue("Content-Type").orElse("");
    try {
      if (type.startsWith("application/json") || type.startsWith("application/problem+json")) {
        return JSON.readTree(response.body());
      }
    } catch (JacksonException e) {
      // Told below: whatever it is, it is not our service.
    }
    throw new Unreached("What answers at " + at + " is not Nodley.");
  }
}
