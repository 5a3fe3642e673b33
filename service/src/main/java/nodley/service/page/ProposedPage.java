package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.Optional;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Theme;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.caller.RequestedLanguages;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Query;
import nodley.service.problem.Problem;
import nodley.service.publish.Publisher;
import nodley.service.submission.Samples;
import nodley.store.Store;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code POST /rehearsal/pages/{form}}: the page of a form file that is not published, as a person
 * would meet it. The body is the file. {@code mode} is {@code add}, or {@code edit} for a made-up
 * record; {@code theme} names another theme than the file does. Nothing is kept.
 */
@RestController
class ProposedPage {

  private final Store store;
  private final Publisher publisher;
  private final Bodies bodies;
  private final Samples samples;
  private final FormPages pages;

  ProposedPage(Store store, Publisher publisher, Bodies bodies, Samples samples, FormPages pages) {
    this.store = store;
    this.publisher = publisher;
    this.bodies = bodies;
    this.samples = samples;
    this.pages = pages;
  }

  @Needs(Right.AUTHOR)
  @PostMapping("/rehearsal/pages/{form}")
  ResponseEntity<byte[]> page(@PathVariable("form") String name, HttpServletRequest request)
      throws IOException {
    Query query = Query.of(request, "mode", "theme", "lang");
    Mode mode = mode(query);
    Optional<Theme> theme = query.get("theme").map(this::theme);
    Body body = bodies.file(request);
    Format format = Format.ofMediaType(body.mediaType());
    try {
      String text = FormFile.decode(body.bytes());
      FormFile.read(text, format, publisher.registry().named(name));
      Form form =
          store
              .forms()
              .proposed(name, format, text)
              .in(RequestedLanguages.languages(request))
              .form();
      Caller caller = Caller.current();
      return mode == Mode.ADD
          ? pages.proposed(request, form, Optional.empty(), theme)
          : pages.proposed(request, form, Optional.of(samples.madeUp(form, caller)), theme);
    } catch (FormFileException e) {
      throw Problem.formFile(e);
    }
  }

  private static Mode mode(Query query) {
    return switch (query.get("mode").orElse("add")) {
      case "add" -> Mode.ADD;
      case "edit" -> Mode.EDIT;
      default -> throw Problem.badQuery("\"mode\" is add or edit, or left out.");
    };
  }

  private Theme theme(String name) {
    return store
        .forms()
        .theme(name)
        .orElseThrow(() -> Problem.badQuery("\"theme\" is the name of a published theme."));
  }
}
