package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import nodley.core.file.ServiceTexts;
import nodley.core.file.TextsFile;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.form.Forms;
import nodley.store.publish.FormPublisher;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/texts/{form}}: the texts of a form, or of all forms ({@code service}), in a language:
 * read, put, removed, and listed with what is missing.
 */
@RestController
@RequestMapping("/api/texts/{form}")
class TextsController {

  private final Store store;
  private final Submissions submissions;
  private final Bodies bodies;

  TextsController(Store store, Submissions submissions, Bodies bodies) {
    this.bodies = bodies;
    this.store = store;
    this.submissions = submissions;
  }

  /** The languages that there are texts in. */
  @Needs(Right.AUTHOR)
  @GetMapping
  ResponseEntity<byte[]> all(@PathVariable String form, HttpServletRequest request) {
    known(form, request);
    List<String> languages =
        store.forms().texts().stream()
            .filter(text -> text.kind() == Forms.Kind.TEXTS)
            .flatMap(text -> TextsFile.name(text.name()).stream())
            .filter(name -> name.form().equals(form))
            .map(name -> name.language().toLanguageTag())
            .toList();
    return Reply.ok(Map.of("form", form, "languages", languages));
  }

  @Needs(Right.AUTHOR)
  @GetMapping("/{lang}")
  ResponseEntity<byte[]> get(
      @PathVariable String form, @PathVariable String lang, HttpServletRequest request) {
    known(form, request);
    Locale language = language(lang);
    Forms.SharedText text =
        store
            .forms()
            .text(Forms.Kind.TEXTS, name(form, language))
            .orElseThrow(() -> missing(form, language));
    return Reply.status(200)
        .contentType(MediaType.parseMediaType(text.format().mediaType()))
        .body(text.text().getBytes(StandardCharsets.UTF_8));
  }

  /** Each text of the form in a language, and where it comes from. */
  @Needs(Right.AUTHOR)
  @GetMapping("/{lang}/keys")
  ResponseEntity<byte[]> keys(
      @PathVariable String form, @PathVariable String lang, HttpServletRequest request) {
    known(form, request);
    Locale language = language(lang);
    List<Object> keys = new ArrayList<>();
    for (TextsFile.Text text : texts(form, language)) {
      Map<String, Object> json = new LinkedHashMap<>();
      json.put("key", text.key());
      json.put("state", text.state().name().toLowerCase(Locale.ROOT));
      json.put("from", text.from().name().toLowerCase(Locale.ROOT).replace('_', '-'));
      json.put("text", text.text());
      keys.add(json);
    }
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("form", form);
    json.put("language", language.toLanguageTag());
    json.put("keys", keys);
    return Reply.ok(json);
  }

  private List<TextsFile.Text> texts(String form, Locale language) {
    return form.equals(ServiceTexts.NAME)
        ? store.forms().serviceTexts(language).texts()
        : store.forms().texts(form, language).orElseThrow().texts();
  }

  @Logged("publish")
  @Needs(Right.AUTHOR)
  @PutMapping("/{lang}")
  ResponseEntity<byte[]> put(
      @PathVariable String form, @PathVariable String lang, HttpServletRequest request)
      throws IOException {
    known(form, request);
    Locale language = language(lang);
    FormPublisher.Outcome outcome =
        SharedFiles.publish(
            store,
            bodies,
            Forms.Kind.TEXTS,
            name(form, language),
            request,
            FormPublisher.Manner.CAREFUL);
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("form", form);
    json.put("language", language.toLanguageTag());
    return SharedFiles.reply(outcome, json);
  }

  @Logged("drop")
  @Needs(Right.AUTHOR)
  @DeleteMapping("/{lang}")
  ResponseEntity<byte[]> remove(
      @PathVariable String form, @PathVariable String lang, HttpServletRequest request) {
    known(form, request);
    Locale language = language(lang);
    if (!store.publisher().unshare(Forms.Kind.TEXTS, name(form, language))) {
      throw missing(form, language);
    }
    return Reply.status(204).build();
  }

  /** Passes if there is a form of this name, or if the texts of all forms are meant. */
  private void known(String form, HttpServletRequest request) {
    Query.of(request);
    if (!form.equals(ServiceTexts.NAME)) {
      submissions.form(form, Caller.current());
    }
  }

  private static String name(String form, Locale language) {
    return form + "." + language.toLanguageTag();
  }

  private static Locale language(String tag) {
    return TextsFile.language(tag)
        .orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-such-language",
                    "There is no such language",
                    "\""
                        + Wellformed.of(tag)
                        + "\" is no language tag; one is de, for example, or pt-BR."));
  }

  private static Problem missing(String form, Locale language) {
    return Problem.of(
        404,
        "no-such-texts",
        "There are no such texts",
        (form.equals(ServiceTexts.NAME) ? "The service" : "Form " + form)
            + " has no texts of its own in "
            + language.toLanguageTag()
            + ".");
  }
}
