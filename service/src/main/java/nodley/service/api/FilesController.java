package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import nodley.core.file.FormWarning;
import nodley.core.file.Format;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import nodley.store.publish.PublishBatch;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code /api/files}: publishes several files (forms, lists, parts, themes, texts) together or none
 * of them, so that files that refer to each other can come in any order. Needs the role author.
 */
@RestController
class FilesController {

  private static final int MOST_FILES = 5_000;

  private final Store store;
  private final Bodies bodies;

  FilesController(Store store, Bodies bodies) {
    this.bodies = bodies;
    this.store = store;
  }

  /** What publishing the files did together. */
  record Published(List<FileReply> files, @JsonUnwrapped PublishReply.Tables tables) {}

  /**
   * What publishing one of them did.
   *
   * @param file its name
   * @param kind {@code form}, {@code list}, {@code part}, {@code theme} or {@code texts}
   * @param name what it declares
   * @param revision of a form; likewise {@code warnings}
   */
  record FileReply(
      String file,
      String kind,
      String name,
      String change,
      Optional<Integer> revision,
      Optional<List<FormWarning>> warnings) {

    static FileReply of(PublishBatch.Item item) {
      return new FileReply(
          item.file().name(),
          item.kind().word(),
          item.name(),
          item.change().word(),
          item.form().map(PublishedForm::revision),
          item.form().map(it -> FormWarning.of(it.form())));
    }
  }

  @Logged("publish")
  @Needs(Right.AUTHOR)
  @PostMapping("/api/files")
  ResponseEntity<byte[]> publish(HttpServletRequest request) throws IOException {
    return published(request, SharedFiles.manner(request));
  }

  /** What publishing them would do; nothing is changed. */
  @Needs(Right.AUTHOR)
  @PostMapping("/api/files/preview")
  ResponseEntity<byte[]> preview(HttpServletRequest request) throws IOException {
    Query.of(request);
    return published(request, FormPublisher.Manner.PREVIEW);
  }

  private ResponseEntity<byte[]> published(HttpServletRequest request, FormPublisher.Manner manner)
      throws IOException {
    List<PublishBatch.File> files = files(request);
    PublishBatch.Outcome outcome = store.publisher().publish(files, manner);
    LoggedCalls.to(
        request,
        files.stream()
            .map(PublishBatch.File::name)
            .map(Wellformed::of)
            .collect(Collectors.joining(" ")));
    return Reply.ok(
        new Published(
            outcome.items().stream().map(FileReply::of).toList(),
            PublishReply.Tables.of(outcome.tables())));
  }

  /** The body: {@code {"files": [{"name": "vessel.form.yaml", "text": "form: vessel…"}]}}. */
  private List<PublishBatch.File> files(HttpServletRequest request) throws IOException {
    JsonNode body;
    try {
      body = JsonMapper.shared().readTree(bodies.files(request));
    } catch (JacksonException e) {
      throw unreadable("The body is no JSON: " + Wellformed.of(e.getOriginalMessage()));
    }
    JsonNode list = body.path("files");
    if (!list.isArray() || list.isEmpty() || list.size() > MOST_FILES) {
      throw unreadable(
          "The body has `files`, a list of 1 to "
              + MOST_FILES
              + ": {\"files\": [{\"name\": \"vessel.form.yaml\", \"text\": \"form: vessel…\"}]}.");
    }
    List<PublishBatch.File> files = new ArrayList<>();
    for (JsonNode file : list) {
      if (!file.path("name").isString() || !file.path("text").isString()) {
        throw unreadable("Each of the files has a `name` and a `text`.");
      }
      String name = file.path("name").asString();
      String text = file.path("text").asString();
      if (!Wellformed.of(name).equals(name) || !Wellformed.of(text).equals(text)) {
        throw unreadable("There is half of a character in " + Wellformed.of(name) + ".");
      }
      files.add(new PublishBatch.File(name, Format.ofFile(name), text));
    }
    return files;
  }

  private static Problem unreadable(String detail) {
    return Problem.of(400, "unreadable", "The body cannot be read", detail);
  }
}
