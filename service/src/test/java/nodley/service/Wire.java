package nodley.service;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.List;
import java.util.Optional;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Speaks HTTP with a service as any client would. */
public final class Wire {

  private static final HttpClient HTTP = HttpClient.newHttpClient();
  private static final JsonMapper JSON = JsonMapper.shared();
  public static final String JSON_TYPE = "application/json";
  public static final String FORM_TYPE = "application/x-www-form-urlencoded";

  private final String address;
  private final Optional<String> key;

  /** A reply, and its body as JSON where it is JSON. */
  public record Reply(int status, HttpResponse<String> response) {
    public JsonNode json() {
      return JSON.readTree(response.body());
    }

    public String header(String name) {
      return response.headers().firstValue(name).orElse("");
    }

    /** Its errors, each as {@code #/callSign taken}. */
    public List<String> codes() {
      return json()
          .path("errors")
          .valueStream()
          .map(it -> it.path("pointer").asString() + " " + it.path("code").asString())
          .toList();
    }

    /** The code of a field's error; empty if it has none. */
    public String codeOf(String field) {
      for (JsonNode error : json().path("errors")) {
        if (error.path("pointer").asString().equals("#/" + field)) {
          return error.path("code").asString();
        }
      }
      return "";
    }
  }

  public Wire(String address, Optional<String> key) {
    this.address = address;
    this.key = key;
  }

  public Reply get(String path, String... headers) {
    return send(with(request(path).GET(), headers));
  }

  public Reply post(String path, String type, String body, String... headers) {
    return send("POST", path, type, body, headers);
  }

  public Reply put(String path, String type, String body, String... headers) {
    return send("PUT", path, type, body, headers);
  }

  public Reply patch(String path, String type, String body, String... headers) {
    return send("PATCH", path, type, body, headers);
  }

  /** Changes some values of a vessel that is at a version, as somebody else would. */
  public void patchVessel(String id, int version, String json) {
    Reply reply =
        patch(
            "/api/forms/vessel/records/" + id, JSON_TYPE, json, "If-Match", "\"" + version + "\"");
    if (reply.status() != 200) {
      throw new AssertionError(reply.response().body());
    }
  }

  public Reply send(String method, String path, String type, String body, String... headers) {
    HttpRequest.Builder request =
        request(path)
            .header("Content-Type", type)
            .method(method, HttpRequest.BodyPublishers.ofString(body));
    return send(with(request, headers));
  }

  public Reply delete(String path, String... headers) {
    return send(with(request(path).DELETE(), headers));
  }

  private static HttpRequest.Builder with(HttpRequest.Builder request, String... headers) {
    for (int i = 0; i < headers.length; i += 2) {
      request.header(headers[i], headers[i + 1]);
    }
    return request;
  }

  /** Publishes a form file and returns the reply. */
  public Reply publish(String form, String yaml) {
    return put("/api/forms/" + form, "application/yaml", yaml);
  }

  /** Publishes the demo's forms. */
  public void publishDemo() {
    for (String form : new String[] {"berth", "vessel", "skipper"}) {
      Reply reply = publish(form, demo(form));
      if (reply.status() != 201) {
        throw new AssertionError(reply.response().body());
      }
    }
  }

  /** The lists, parts and themes of the demo, and its forms that use them, on top of the others. */
  public void publishWholeDemo() {
    publishDemo();
    for (String shared :
        new String[] {"lists/services", "parts/contact", "parts/in-order", "themes/watch"}) {
      String kind = shared.substring(0, shared.indexOf('/') - 1);
      Reply reply =
          put("/api/" + shared, "application/yaml", file("demo/" + shared + "." + kind + ".yaml"));
      if (reply.status() != 201) {
        throw new AssertionError(reply.response().body());
      }
    }
    for (String form : new String[] {"visit", "incident", "harbour"}) {
      Reply reply = publish(form, demo(form));
      if (reply.status() != 201) {
        throw new AssertionError(reply.response().body());
      }
    }
  }

  /**
   * Publishes the demo's visit with all its fields on one page, as a form without steps has them.
   */
  public void publishVisitOnOnePage() {
    String visit = demo("visit").replaceAll("(?s)\nsteps:.*?\ndraft: [^\n]*", "");
    if (publish("visit", visit).status() != 200) {
      throw new AssertionError(visit);
    }
  }

  private static String file(String path) {
    try {
      return Files.readString(Repository.file(path));
    } catch (IOException e) {
      throw new AssertionError(e);
    }
  }

  public static String demo(String form) {
    return file("demo/forms/" + form + ".form.yaml");
  }

  public Reply add(String form, String json) {
    return post("/api/forms/" + form + "/records", JSON_TYPE, json);
  }

  /** The values of a vessel, as JSON. */
  public static String vessel(String name, String sign) {
    return "{\"name\":\""
        + name
        + "\",\"callSign\":\""
        + sign
        + "\",\"rig\":\"sail\",\"length\":9.5,\"insured\":true}";
  }

  /** Adds a vessel and gives its id. */
  public String addVessel(String name, String sign) {
    Reply reply = add("vessel", vessel(name, sign));
    if (reply.status() != 201) {
      throw new AssertionError(reply.response().body());
    }
    return reply.json().path("id").asString();
  }

  public Reply check(String form, String query, String json) {
    return post("/api/forms/" + form + "/checks" + query, JSON_TYPE, json);
  }

  public HttpRequest.Builder request(String path) {
    HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(address + path));
    key.ifPresent(it -> request.header("Authorization", "Bearer " + it));
    return request;
  }

  public Reply send(HttpRequest.Builder request) {
    try {
      HttpResponse<String> response =
          HTTP.send(request.build(), HttpResponse.BodyHandlers.ofString(StandardCharsets.UTF_8));
      return new Reply(response.statusCode(), response);
    } catch (IOException e) {
      throw new AssertionError(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new AssertionError(e);
    }
  }
}
