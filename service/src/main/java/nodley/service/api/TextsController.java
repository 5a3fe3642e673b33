package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
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

  record Languages(String form, List<String> languages) {}

  record Texts(String form, String language, List<TextReply> keys) {}

  /**
   * A text of a form in a language.
   *
   * @param state whether it is translated, and still says what the form does
   * @param from where it comes from
   */
  record TextReply(String key, String state, String from, String text) {

    static TextReply of(TextsFile.Text text) {
      return new TextReply(text.key(), word(text.state()), word(text.from()), text.text());
    }

    private static String word(Enum<?> constant) {
      return constant.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  record Published(String form, String language, @JsonUnwrapped PublishReply published) {}

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
    return Reply.ok(new Languages(form, languages));
  }

  /**
   * Answers 200 with the texts of a form in a language, as they were published, under a tag for
   * If-Match.
   *
   * @throws Problem 404 if nobody has published any
   */
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
    return Reply.tagged(
        Reply.status(200).contentType(MediaType.parseMediaType(text.format().mediaType())),
        text.text().getBytes(StandardCharsets.UTF_8),
        request);
  }

  /** Each text of the form in a language, and where it comes from. */
  @Needs(Right.AUTHOR)
  @GetMapping("/{lang}/keys")
  ResponseEntity<byte[]> keys(
      @PathVariable String form, @PathVariable String lang, HttpServletRequest request) {
    known(form, request);
    Locale language = language(lang);
    return Reply.ok(
        new Texts(
            form,
            language.toLanguageTag(),
            texts(form, language).stream().map(TextReply::of).toList()));
  }

  private List<TextsFile.Text> texts(String form, Locale language) {
    return form.equals(ServiceTexts.NAME)
        ? store.forms().serviceTexts(language).texts()
        : store.forms().texts(form, language).orElseThrow().texts();
  }

  /**
   * Publishes the texts of a form in a language: 201 if they are the first, else 200.
   *
   * @throws Problem 412 if the texts in use are not those that If-Match names; 422 if they are
   *     wrong
   */
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
    return SharedFiles.reply(
        outcome, new Published(form, language.toLanguageTag(), PublishReply.of(outcome)));
  }

  /**
   * Removes the texts of a form in a language: 204.
   *
   * @throws Problem 404 if there are none
   */
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
