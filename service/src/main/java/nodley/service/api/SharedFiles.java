package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.form.Forms;
import nodley.store.publish.FormPublisher;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;

/**
 * Reads lists, parts, themes and texts from request bodies and publishes them, for the addresses
 * that take one file or several. Stateless.
 */
final class SharedFiles {

  private SharedFiles() {}

  /** How the query wants it published: {@code ?force=rules}, or as usual. */
  static FormPublisher.Manner manner(HttpServletRequest request) {
    Optional<String> force = Query.of(request, "force").get("force");
    if (force.filter(it -> !it.equals("rules")).isPresent()) {
      throw Problem.badQuery(
          "Invalid value of \"force\": only \"rules\" is allowed. It publishes new rules although"
              + " stored records violate them.");
    }
    return force.isPresent() ? FormPublisher.Manner.FORCE_RULES : FormPublisher.Manner.CAREFUL;
  }

  /**
   * Whether an author has seen a text, as they say by {@code If-Match}; if they say nothing, yes.
   */
  static Predicate<String> known(HttpServletRequest request) {
    String tags = request.getHeader(HttpHeaders.IF_MATCH);
    return tags == null || tags.strip().equals("*")
        ? _ -> true
        : text -> tags.contains(Reply.tag(text.getBytes(StandardCharsets.UTF_8)));
  }

  /**
   * Publishes what the body has; 422 with all that is wrong in it, and 412 if somebody else has
   * published another text than the author has seen ({@code If-Match}).
   */
  static FormPublisher.Outcome publish(
      Store store,
      Bodies bodies,
      Forms.Kind kind,
      String name,
      HttpServletRequest request,
      FormPublisher.Manner manner)
      throws IOException {
    Body body = bodies.file(request);
    Format format = Format.ofMediaType(body.mediaType());
    try {
      return store
          .publisher()
          .share(
              new Forms.SharedText(kind, name, format, FormFile.decode(body.bytes())),
              manner,
              manner == FormPublisher.Manner.PREVIEW ? _ -> true : known(request));
    } catch (FormFileException e) {
      throw Problem.formFile(e);
    }
  }

  /** 201 for what was not there before. */
  static ResponseEntity<byte[]> reply(FormPublisher.Outcome outcome, Object reply) {
    boolean isNew = outcome.change() == FormPublisher.Change.NEW;
    return Reply.json(Reply.status(isNew ? 201 : 200), reply);
  }
}
