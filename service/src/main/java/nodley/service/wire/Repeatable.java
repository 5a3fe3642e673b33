package nodley.service.wire;

import jakarta.servlet.http.HttpServletRequest;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Optional;
import java.util.function.Function;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.service.attempt.Attempted;
import nodley.service.caller.Caller;
import nodley.service.caller.Gate;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.service.submission.Displays;
import nodley.store.Sent;
import nodley.store.Store;
import nodley.store.StoreException;
import nodley.store.StoredRecord;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Adds and edits that may be sent again with the same {@code Idempotency-Key}: once accepted, they
 * get the first answer each time. A refusal binds nothing.
 */
@Component
class Repeatable {

  private static final int MAX_KEY = 200;
  private static final JsonMapper JSON = JsonMapper.shared();

  private final Store store;
  private final Displays displays;

  Repeatable(Store store, Displays displays) {
    this.store = store;
    this.displays = displays;
  }

  /**
   * Sends, or answers as before.
   *
   * @param body what came, for another body must not pass for the first
   */
  ResponseEntity<byte[]> answer(
      HttpServletRequest request,
      byte[] body,
      Form form,
      Mode mode,
      Attempted attempt,
      Function<Sent, StoredRecord> send) {
    Caller caller = Caller.current();
    Function<StoredRecord, byte[]> answer =
        record ->
            Json.bytes(
                RecordJson.accepted(
                    form, mode, record, Gate.maySee(caller, form), displays.of(caller)));
    Sent sent =
        new Sent(
            caller.name(),
            OpenPage.of(request, store, form),
            key(request)
                .map(
                    key ->
                        new Sent.Once(
                            key,
                            digest(request, body),
                            record -> new String(answer.apply(record), StandardCharsets.UTF_8))),
            Optional.empty());
    Optional<String> before = store.answers().find(form.name(), sent);
    if (before.isPresent()) {
      return again(form, mode, before.get(), attempt);
    }
    try {
      StoredRecord record = send.apply(sent);
      return reply(form, mode, record.id(), record.version(), answer.apply(record));
    } catch (StoreException.AlreadyAnswered e) {
      return again(form, mode, e.answer(), attempt);
    } catch (Problem | StoreException.Outdated problem) {
      // Its twin may have been accepted meanwhile, and be what now stands in its way.
      Optional<String> twin = store.answers().find(form.name(), sent);
      if (twin.isPresent()) {
        return again(form, mode, twin.get(), attempt);
      }
      throw problem;
    }
  }

  private static ResponseEntity<byte[]> again(
      Form form, Mode mode, String answer, Attempted attempt) {
    JsonNode record = JSON.readTree(answer);
    attempt.repeated(record.path("id").asString());
    return reply(
        form,
        mode,
        record.path("id").asString(),
        record.path("version").asLong(),
        answer.getBytes(StandardCharsets.UTF_8));
  }

  private static ResponseEntity<byte[]> reply(
      Form form, Mode mode, String id, long version, byte[] answer) {
    ResponseEntity.BodyBuilder reply =
        Reply.status(mode == Mode.ADD ? 201 : 200)
            .header("ETag", "\"" + version + "\"")
            .contentType(MediaType.APPLICATION_JSON);
    if (mode == Mode.ADD) {
      reply.location(URI.create("/api/forms/" + form.name() + "/records/" + id));
    }
    return reply.body(answer);
  }

  /** The key, with or without the quotes of a structured field (RFC 9651, section 3.3.3). */
  private static Optional<String> key(HttpServletRequest request) {
    String header = request.getHeader("Idempotency-Key");
    if (header == null) {
      return Optional.empty();
    }
    String key = header.strip();
    if (key.length() > 1 && key.startsWith("\"") && key.endsWith("\"")) {
      key = key.substring(1, key.length() - 1);
    }
    if (key.isEmpty() || key.length() > MAX_KEY || !key.chars().allMatch(c -> c > 32 && c < 127)) {
      throw Problem.of(
          400,
          "unreadable",
          "Idempotency-Key cannot be read",
          "Idempotency-Key is 1 to "
              + MAX_KEY
              + " ASCII characters without spaces, such as a UUID.");
    }
    return Optional.of(key);
  }

  private static String digest(HttpServletRequest request, byte[] body) {
    try {
      MessageDigest digest = MessageDigest.getInstance("SHA-256");
      String line = request.getMethod() + " " + request.getRequestURI() + "\n";
      digest.update(line.getBytes(StandardCharsets.UTF_8));
      return HexFormat.of().formatHex(digest.digest(body));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every JDK has SHA-256", e);
    }
  }
}
