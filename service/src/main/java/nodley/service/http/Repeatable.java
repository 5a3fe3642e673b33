package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.Supplier;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Caller;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.service.submission.Displays;
import nodley.store.Store;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Caused;
import nodley.store.draft.Drafts;
import nodley.store.record.SubmissionInfo;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Idempotent adds and edits: one that is sent again with the same {@code Idempotency-Key} gets the
 * first answer, once it was accepted. A refusal is not stored.
 */
@Component
public class Repeatable {

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
   * @param draft the draft that it finishes; empty if there is none
   */
  public ResponseEntity<byte[]> answer(
      HttpServletRequest request,
      byte[] body,
      Form form,
      Mode mode,
      String draft,
      AttemptRecorder attempt,
      Function<SubmissionInfo, StoredRecord> send) {
    SubmissionInfo sent =
        sent(request, body, form, mode, key(request), OpenPage.of(request, store, form), draft);
    Function<StoredRecord, byte[]> answer = answer(form, mode);
    return once(
        form,
        sent,
        attempt,
        () -> {
          StoredRecord record = send.apply(sent);
          return reply(form, mode, record.id(), record.version(), answer.apply(record));
        },
        _ -> true,
        before -> again(form, mode, before));
  }

  /**
   * How a submission came.
   *
   * @param key what its sender calls it, if it may be sent again
   * @param page the open page that it came from; empty if none is known
   * @param draft the draft that it finishes; empty if there is none
   */
  public SubmissionInfo sent(
      HttpServletRequest request,
      byte[] body,
      Form form,
      Mode mode,
      Optional<String> key,
      String page,
      String draft) {
    Function<StoredRecord, byte[]> answer = answer(form, mode);
    return new SubmissionInfo(
        Caller.current().name(),
        Caller.current().person(),
        page.isEmpty() && !draft.isEmpty() ? Drafts.page(draft) : page,
        draft,
        key.map(
            it ->
                new SubmissionInfo.Once(
                    it,
                    digest(request, body),
                    record -> new String(answer.apply(record), StandardCharsets.UTF_8))),
        Optional.empty(),
        Caused.NOTHING);
  }

  /** The answer to an add or edit that is kept; it may be asked for while others are written. */
  private Function<StoredRecord, byte[]> answer(Form form, Mode mode) {
    Caller caller = Caller.current();
    return record ->
        Json.bytes(RecordReply.accepted(form, mode, record, caller, displays.of(caller)));
  }

  /**
   * Sends, unless that was accepted before.
   *
   * @param accepted whether what was answered is an acceptance
   * @param again is given the first answer, as JSON
   * @throws StoreException.KeyReused if its key stands for another submission
   */
  public <R> R once(
      Form form,
      SubmissionInfo sent,
      AttemptRecorder attempt,
      Supplier<R> send,
      Predicate<R> accepted,
      Function<String, R> again) {
    Function<String, R> repeated =
        answer -> {
          attempt.repeated(JSON.readTree(answer).path("id").asString());
          return again.apply(answer);
        };
    Optional<String> before = store.idempotency().find(form.name(), sent);
    if (before.isPresent()) {
      return repeated.apply(before.get());
    }
    // Where it is not accepted, its twin may have been meanwhile, and be what stands in its way.
    try {
      R answer = send.get();
      return accepted.test(answer)
          ? answer
          : store.idempotency().find(form.name(), sent).map(repeated).orElse(answer);
    } catch (StoreException.AlreadyAnswered e) {
      return repeated.apply(e.answer());
    } catch (Problem | StoreException.Outdated problem) {
      return store.idempotency().find(form.name(), sent).map(repeated).orElseThrow(() -> problem);
    }
  }

  private static ResponseEntity<byte[]> again(Form form, Mode mode, String answer) {
    JsonNode record = JSON.readTree(answer);
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
        Reply.status(form.isKeepingNone() ? 202 : mode == Mode.ADD ? 201 : 200)
            .contentType(MediaType.APPLICATION_JSON);
    if (form.isKeepingNone()) {
      return reply.body(answer);
    }
    reply.header("ETag", "\"" + version + "\"");
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
    if (!isKey(key)) {
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

  /** True if it can be what a sender calls a submission. */
  public static boolean isKey(String text) {
    return !text.isEmpty()
        && text.length() <= MAX_KEY
        && text.chars().allMatch(c -> c > 32 && c < 127);
  }

  /** The body may hold a password, so that a plain digest of it could be guessed at. */
  private String digest(HttpServletRequest request, byte[] body) {
    String line = request.getMethod() + " " + request.getRequestURI();
    return store.tokens().digest("submission " + line, body);
  }
}
