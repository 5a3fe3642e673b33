package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.form.Forms;
import nodley.store.publish.FormPublisher;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/lists}, {@code /api/parts} and {@code /api/themes}: what forms share. Publishing one
 * publishes anew, or refuses to, each form that uses it.
 */
@RestController
@RequestMapping("/api/{kind:lists|parts|themes}")
class SharedController {

  private final Store store;
  private final Bodies bodies;

  SharedController(Store store, Bodies bodies) {
    this.bodies = bodies;
    this.store = store;
  }

  /** What publishing did; one of the three names is there. */
  record Published(
      Optional<String> list,
      Optional<String> part,
      Optional<String> theme,
      @JsonUnwrapped PublishReply published) {

    static Published of(String path, String name, FormPublisher.Outcome outcome) {
      return new Published(
          Optional.of(name).filter(_ -> path.equals("lists")),
          Optional.of(name).filter(_ -> path.equals("parts")),
          Optional.of(name).filter(_ -> path.equals("themes")),
          PublishReply.of(outcome));
    }
  }

  private static Forms.Kind kind(String path) {
    return switch (path) {
      case "lists" -> Forms.Kind.LIST;
      case "parts" -> Forms.Kind.PART;
      default -> Forms.Kind.THEME;
    };
  }

  /** Answers 200 with the names of one kind, and the forms that use each. */
  @Needs(Right.AUTHOR)
  @GetMapping
  ResponseEntity<byte[]> all(@PathVariable("kind") String path, HttpServletRequest request) {
    Query.of(request);
    Forms.Kind kind = kind(path);
    List<String> names = names(kind);
    Map<String, List<String>> uses = new TreeMap<>();
    names.forEach(name -> uses.put(name, store.forms().using(kind, name)));
    return Reply.ok(Map.of(path, names, "uses", uses));
  }

  /**
   * Answers 200 with a file as its author wrote it, under a tag for If-Match.
   *
   * @throws Problem 404 if there is none of this name
   */
  @Needs(Right.AUTHOR)
  @GetMapping("/{name}")
  ResponseEntity<byte[]> get(
      @PathVariable("kind") String path, @PathVariable String name, HttpServletRequest request) {
    Query.of(request);
    Forms.SharedText text =
        store.forms().text(kind(path), name).orElseThrow(() -> missing(path, name));
    return Reply.tagged(
        Reply.status(200).contentType(MediaType.parseMediaType(text.format().mediaType())),
        text.text().getBytes(StandardCharsets.UTF_8),
        request);
  }

  /**
   * Publishes a file, and with it all forms that use it: 201 if it is new, else 200.
   *
   * @throws Problem 409 if stored records stand against it; 412 if the file in use is not the one
   *     that If-Match names; 422 if it is wrong, or makes a form wrong
   */
  @Logged("publish")
  @Needs(Right.AUTHOR)
  @PutMapping("/{name}")
  ResponseEntity<byte[]> put(
      @PathVariable("kind") String path, @PathVariable String name, HttpServletRequest request)
      throws IOException {
    FormPublisher.Outcome outcome =
        SharedFiles.publish(store, bodies, kind(path), name, request, SharedFiles.manner(request));
    return SharedFiles.reply(outcome, Published.of(path, name, outcome));
  }

  /** What publishing it would do; nothing is changed. */
  @Needs(Right.AUTHOR)
  @PostMapping("/{name}/preview")
  ResponseEntity<byte[]> preview(
      @PathVariable("kind") String path, @PathVariable String name, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    FormPublisher.Outcome outcome =
        SharedFiles.publish(store, bodies, kind(path), name, request, FormPublisher.Manner.PREVIEW);
    return Reply.ok(Published.of(path, name, outcome));
  }

  /**
   * Removes a file that no form uses: 204.
   *
   * @throws Problem 404 if there is none of this name; 409 if forms use it
   */
  @Logged("drop")
  @Needs(Right.AUTHOR)
  @DeleteMapping("/{name}")
  ResponseEntity<byte[]> remove(
      @PathVariable("kind") String path, @PathVariable String name, HttpServletRequest request) {
    Query.of(request);
    if (!store.publisher().unshare(kind(path), name)) {
      throw missing(path, name);
    }
    return Reply.status(204).build();
  }

  private List<String> names(Forms.Kind kind) {
    return store.forms().texts().stream()
        .filter(text -> text.kind() == kind)
        .map(Forms.SharedText::name)
        .toList();
  }

  private Problem missing(String path, String name) {
    String what = path.substring(0, path.length() - 1);
    Optional<String> near = Near.to(name, names(kind(path)));
    return Problem.of(
        404,
        "no-such-" + what,
        "There is no such " + what,
        "There is no "
            + what
            + " \""
            + Wellformed.of(name)
            + "\"."
            + near.map(it -> " Did you mean \"" + it + "\"?").orElse(""));
  }
}
