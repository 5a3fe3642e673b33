package nodley.cli;

import java.io.BufferedReader;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiPredicate;
import java.util.stream.Collectors;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * HTTP client of the service. Uses {@link HttpURLConnection}: creating the JDK's newer client takes
 * a third of a second, which is most of what a command may take.
 */
final class Client {

  private static final int CONNECT = (int) Duration.ofSeconds(5).toMillis();
  private static final int REPLY = (int) Duration.ofSeconds(60).toMillis();

  /** Publishing goes over every kept record. */
  private static final int PUBLISHED = (int) Duration.ofMinutes(30).toMillis();

  /** A service that is there says something more often than this. */
  private static final int SILENCE = (int) Duration.ofSeconds(60).toMillis();

  private static final JsonMapper JSON = JsonMapper.shared();
  private static final String MEDIA_TYPE = "application/json";

  static {
    // Left alone, the JDK would send a POST a second time when a connection breaks.
    System.setProperty("sun.net.http.retryPost", "false");
  }

  private final String at;
  private final Optional<String> key;
  private final boolean json;

  Client(String at, Optional<String> key, boolean json) {
    this.at = at;
    this.key = key;
    this.json = json;
  }

  /** Where the service is, such as {@code http://127.0.0.1:8420}. */
  String address() {
    return at;
  }

  /**
   * Gets JSON.
   *
   * @param path with its query, each part by {@link #part}
   */
  JsonNode get(String path) {
    return send("GET", path, Map.of(), new byte[0]);
  }

  /**
   * Posts JSON.
   *
   * @return the JSON that is answered; an empty object for 204
   * @throws ServiceRefusal if the service refuses
   * @throws ServiceUnreachable if nobody answers there, or somebody else
   */
  JsonNode post(String path, JsonNode values) {
    return postJson(path, JSON.writeValueAsBytes(values));
  }

  /** The same for JSON that is there as bytes, which are sent as they are. */
  JsonNode postJson(String path, byte[] json) {
    return send("POST", path, Map.of("Content-Type", MEDIA_TYPE), json);
  }

  /** Sends nothing but the version that is known. */
  JsonNode post(String path, long version) {
    return send("POST", path, Map.of("If-Match", tag(version)), new byte[0]);
  }

  /** Puts JSON in place of what is at a version ({@code If-Match}). */
  JsonNode put(String path, JsonNode values, long version) {
    return send(
        "PUT",
        path,
        Map.of("Content-Type", MEDIA_TYPE, "If-Match", tag(version)),
        JSON.writeValueAsBytes(values));
  }

  /** Puts a file, such as a form file, as it is. */
  JsonNode putFile(String path, String mediaType, byte[] file) {
    return send("PUT", path, Map.of("Content-Type", mediaType), file, PUBLISHED);
  }

  /** Posts a file as it is. */
  JsonNode postFile(String path, String mediaType, byte[] file) {
    return send("POST", path, Map.of("Content-Type", mediaType), file, PUBLISHED);
  }

  /** Deletes, and returns what is answered. */
  JsonNode delete(String path) {
    return send("DELETE", path, Map.of(), new byte[0]);
  }

  JsonNode put(String path, JsonNode values) {
    return send("PUT", path, Map.of("Content-Type", MEDIA_TYPE), JSON.writeValueAsBytes(values));
  }

  /** Sends nothing but what the path says. */
  JsonNode post(String path) {
    return send("POST", path, Map.of(), new byte[0]);
  }

  JsonNode put(String path) {
    return send("PUT", path, Map.of(), new byte[0]);
  }

  /** Gets server-sent events: each one's name and data, until it is told that it is enough. */
  void events(String path, BiPredicate<String, String> goesOn) {
    try {
      HttpURLConnection call = call("GET", path);
      call.setReadTimeout(SILENCE);
      if (call.getResponseCode() != HttpURLConnection.HTTP_OK) {
        reply(call);
      }
      try (BufferedReader lines =
          new BufferedReader(
              new InputStreamReader(call.getInputStream(), StandardCharsets.UTF_8))) {
        String event = "";
        for (String line = lines.readLine(); line != null; line = lines.readLine()) {
          if (line.startsWith("event: ")) {
            event = line.substring("event: ".length());
          } else if (line.startsWith("data: ")
              && !goesOn.test(event, line.substring("data: ".length()))) {
            return;
          }
        }
      }
      throw new ServiceUnreachable("Nodley at " + at + " has ended.");
    } catch (IOException e) {
      throw unreached();
    }
  }

  /**
   * Saves what a path answers; a file that could not be fetched whole does not stay.
   *
   * @throws IOException if the file cannot be written
   */
  void save(String path, Path file) throws IOException {
    Path part = file.resolveSibling(file.getFileName() + ".part");
    try {
      try (OutputStream out = Files.newOutputStream(part)) {
        fetch("GET", path, out);
      }
      Files.move(part, file);
    } finally {
      Files.deleteIfExists(part);
    }
  }

  /** Posts nothing, and returns what is answered where that is a text and no JSON. */
  String postForText(String path) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    fetch("POST", path, out);
    return out.toString(StandardCharsets.UTF_8);
  }

  private void fetch(String method, String path, OutputStream out) {
    try {
      HttpURLConnection call = call(method, path);
      if (call.getResponseCode() != HttpURLConnection.HTTP_OK) {
        reply(call);
      }
      try (InputStream in = call.getInputStream()) {
        in.transferTo(out);
      }
    } catch (IOException e) {
      throw unreached();
    }
  }

  /** Deletes what is at a version ({@code If-Match}). */
  void delete(String path, long version) {
    send("DELETE", path, Map.of("If-Match", tag(version)), new byte[0]);
  }

  /**
   * Begins an upload (tus 1.0.0).
   *
   * @return its address, below {@code /api}
   */
  String beginUpload(String form, String field, String name, long size) {
    HttpURLConnection call =
        upload(
            "POST",
            "/uploads",
            Map.of(
                "Upload-Length",
                Long.toString(size),
                "Upload-Metadata",
                "form %s,field %s,filename %s"
                    .formatted(base64(form), base64(field), base64(name))),
            new byte[0]);
    return call.getHeaderField("Location").replaceFirst("^.*/api(?=/uploads/)", "");
  }

  /**
   * Adds bytes to an upload.
   *
   * @return how many there are now
   * @throws ServiceUnreachable if the line breaks; some of them may be there all the same
   */
  long appendUpload(String location, long offset, byte[] bytes) {
    // The JDK's client knows no PATCH; the protocol has a way for such clients.
    HttpURLConnection call =
        upload(
            "POST",
            location,
            Map.of(
                "X-HTTP-Method-Override",
                "PATCH",
                "Upload-Offset",
                Long.toString(offset),
                "Content-Type",
                "application/offset+octet-stream"),
            bytes);
    return Long.parseLong(call.getHeaderField("Upload-Offset"));
  }

  /** Asks how many bytes of an upload are there; empty if nobody answers. */
  Optional<Long> uploadOffset(String location) {
    try {
      HttpURLConnection call = upload("HEAD", location, Map.of(), new byte[0]);
      return Optional.of(Long.parseLong(call.getHeaderField("Upload-Offset")));
    } catch (ServiceUnreachable e) {
      return Optional.empty();
    }
  }

  private HttpURLConnection upload(
      String method, String path, Map<String, String> headers, byte[] body) {
    try {
      HttpURLConnection call = call(method, path);
      call.setRequestProperty("Tus-Resumable", "1.0.0");
      headers.forEach(call::setRequestProperty);
      if (method.equals("POST")) {
        call.setDoOutput(true);
        call.setFixedLengthStreamingMode(body.length);
        try (OutputStream out = call.getOutputStream()) {
          out.write(body);
        }
      }
      if (call.getResponseCode() >= HttpURLConnection.HTTP_BAD_REQUEST) {
        reply(call);
      }
      return call;
    } catch (IOException e) {
      throw unreached();
    }
  }

  private static String base64(String text) {
    return Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
  }

  /** One part of a path, such as a name that a person typed. */
  static String part(String name) {
    return URLEncoder.encode(name, StandardCharsets.UTF_8).replace("+", "%20");
  }

  /** A query of those that have a value, in their order: {@code ?form=vessel&limit=20}. */
  static String query(Map<String, String> wanted) {
    return wanted.entrySet().stream()
        .filter(it -> it.getValue() != null)
        .map(it -> it.getKey() + "=" + part(it.getValue()))
        .collect(Collectors.joining("&", "?", ""));
  }

  private static String tag(long version) {
    return "\"" + version + "\"";
  }

  private JsonNode send(String method, String path, Map<String, String> headers, byte[] body) {
    return send(method, path, headers, body, REPLY);
  }

  private JsonNode send(
      String method, String path, Map<String, String> headers, byte[] body, int patience) {
    try {
      HttpURLConnection call = call(method, path);
      call.setReadTimeout(patience);
      headers.forEach(call::setRequestProperty);
      if (body.length > 0 || method.equals("POST")) {
        call.setDoOutput(true);
        try (OutputStream out = call.getOutputStream()) {
          out.write(body);
        }
      }
      return reply(call);
    } catch (IOException e) {
      throw unreached();
    }
  }

  private HttpURLConnection call(String method, String path) throws IOException {
    HttpURLConnection call =
        (HttpURLConnection) URI.create(at + "/api" + path).toURL().openConnection();
    call.setConnectTimeout(CONNECT);
    call.setReadTimeout(REPLY);
    call.setInstanceFollowRedirects(false);
    call.setRequestMethod(method);
    key.ifPresent(it -> call.setRequestProperty("Authorization", "Bearer " + it));
    return call;
  }

  private ServiceUnreachable unreached() {
    return new ServiceUnreachable(
        "Cannot reach Nodley at " + at + ". Is it running there? Start it with: nodley serve");
  }

  private JsonNode reply(HttpURLConnection call) throws IOException {
    int status = call.getResponseCode();
    if (status == HttpURLConnection.HTTP_NO_CONTENT) {
      return JSON.createObjectNode();
    }
    JsonNode reply = parse(call, status);
    if (status >= HttpURLConnection.HTTP_BAD_REQUEST) {
      throw new ServiceRefusal(reply, json);
    }
    return reply;
  }

  private JsonNode parse(HttpURLConnection call, int status) throws IOException {
    String type = Optional.ofNullable(call.getContentType()).orElse("");
    boolean ours = type.matches("application/([a-z]+\\+)?json(;.*)?");
    try (InputStream in =
        status < HttpURLConnection.HTTP_BAD_REQUEST
            ? call.getInputStream()
            : call.getErrorStream()) {
      if (ours && in != null) {
        return JSON.readTree(in.readAllBytes());
      }
    } catch (JacksonException e) {
      // Told below: whatever it is, it is not our service.
    }
    throw new ServiceUnreachable("What answers at " + at + " is not Nodley.");
  }
}
