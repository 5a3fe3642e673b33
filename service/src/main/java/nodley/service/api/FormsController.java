package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.describe.Description;
import nodley.core.describe.ValueSchema;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileError;
import nodley.core.file.FormFileException;
import nodley.core.file.FormWarning;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.service.publish.Publisher;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import nodley.store.publish.RetiredField;
import nodley.store.record.Records;
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
 * {@code /api/forms}: lists, publishes, previews, describes and removes forms, and tells their
 * files, revisions and retired fields. Only forms that a caller may use are listed, and of a form
 * only what the caller may see is described.
 */
@RestController
@RequestMapping("/api/forms")
class FormsController {

  private final Store store;
  private final Publisher publisher;
  private final Submissions submissions;
  private final Bodies bodies;

  FormsController(Store store, Publisher publisher, Submissions submissions, Bodies bodies) {
    this.bodies = bodies;
    this.store = store;
    this.publisher = publisher;
    this.submissions = submissions;
  }

  record AllForms(List<Summary> forms) {}

  /**
   * A form in a list.
   *
   * @param fields how many the caller may know of
   * @param records how many there are; left out if the caller may see none
   * @param estimated true if there are too many to be counted; else left out
   */
  record Summary(
      String form,
      String title,
      int revision,
      long fields,
      Optional<Long> records,
      Optional<Boolean> estimated) {}

  /** What publishing a form did, or would do. */
  record Published(
      String form,
      int revision,
      @JsonUnwrapped PublishReply published,
      List<FormWarning> warnings) {

    static Published of(FormPublisher.Published published) {
      return new Published(
          published.form().name(),
          published.form().revision(),
          PublishReply.of(published.outcome()),
          FormWarning.of(published.form().form()));
    }
  }

  record Revisions(List<RevisionReply> revisions) {}

  record RevisionReply(int revision, String publishedAt, boolean current) {}

  record Retired(List<RetiredField> retired) {}

  record Forgotten(List<RetiredField> forgotten) {}

  /**
   * Answers 200 with the forms that the caller may use, each with its count of records where they
   * may see some: the exact one up to 10 000, estimated beyond.
   */
  @Needs(Right.NO_INVALID_TOKEN)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Caller caller = Caller.current();
    Query.of(request);
    List<Summary> forms = new ArrayList<>();
    for (PublishedForm published : store.forms().all()) {
      if (Authorization.mayUse(caller, published.form())) {
        forms.add(summary(Authorization.seen(published, caller), caller));
      }
    }
    return Reply.ok(new AllForms(forms));
  }

  private Summary summary(PublishedForm published, Caller caller) {
    Form form = published.form();
    Optional<Records.Count> count =
        Authorization.maySeeSome(caller, form)
            ? Optional.of(store.records().count(form, Authorization.visibleOwner(caller, form)))
            : Optional.empty();
    return new Summary(
        form.name(),
        form.titles().list(),
        published.revision(),
        form.fields().stream().filter(it -> !it.isHidden()).count(),
        count.map(Records.Count::records),
        count.map(Records.Count::estimated).filter(it -> it));
  }

  /**
   * Publishes a form file: 201 for a new form, 200 for another revision. All errors of the file are
   * told at once, with their lines; nothing is changed then.
   *
   * @throws Problem 422 if the file is wrong; 409 if stored records stand against it; 412 if the
   *     text in use is not the one that If-Match names
   */
  @Logged("publish")
  @Needs(Right.AUTHOR)
  @PutMapping("/{form}")
  ResponseEntity<byte[]> publish(@PathVariable String form, HttpServletRequest request)
      throws IOException {
    FormPublisher.Manner manner = SharedFiles.manner(request);
    return published(published(form, request, manner, SharedFiles.known(request)));
  }

  /** What publishing it would do; nothing is changed. */
  @Needs(Right.AUTHOR)
  @PostMapping("/{form}/preview")
  ResponseEntity<byte[]> preview(@PathVariable String form, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    return Reply.ok(
        Published.of(published(form, request, FormPublisher.Manner.PREVIEW, _ -> true)));
  }

  private FormPublisher.Published published(
      String form, HttpServletRequest request, FormPublisher.Manner manner, Predicate<String> known)
      throws IOException {
    Body body = bodies.file(request);
    Format format = Format.ofMediaType(body.mediaType());
    try {
      String text = FormFile.decode(body.bytes());
      return publisher.publish(text, format, publisher.registry().named(form), manner, known);
    } catch (FormFileException e) {
      throw Problem.formFile(e);
    }
  }

  /** What is wrong in a form file, and what its author will hardly have meant. */
  record Linted(List<FormFileError> errors, List<FormWarning> warnings) {}

  /** Reads a form file, and no more: what an editor asks for while somebody types. */
  @Needs(Right.AUTHOR)
  @PostMapping("/{form}/lint")
  ResponseEntity<byte[]> lint(@PathVariable String form, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Body body = bodies.file(request);
    Format format = Format.ofMediaType(body.mediaType());
    try {
      Form read =
          FormFile.read(FormFile.decode(body.bytes()), format, publisher.registry().named(form));
      return Reply.ok(new Linted(List.of(), FormWarning.of(read)));
    } catch (FormFileException e) {
      return Reply.ok(new Linted(e.errors(), List.of()));
    }
  }

  private static ResponseEntity<byte[]> published(FormPublisher.Published published) {
    boolean isNew = published.outcome().change() == FormPublisher.Change.NEW;
    ResponseEntity.BodyBuilder reply = Reply.status(isNew ? 201 : 200);
    if (isNew) {
      reply.location(URI.create("/api/forms/" + published.form().name()));
    }
    return Reply.json(reply, Published.of(published));
  }

  /** The text of a revision, as it was published. */
  @Needs(Right.AUTHOR)
  @GetMapping("/{form}/revisions/{number}")
  ResponseEntity<byte[]> revision(
      @PathVariable String form, @PathVariable String number, HttpServletRequest request) {
    submissions.form(form, Caller.current());
    Query.of(request);
    Forms.Revision revision = revisionOf(form, number);
    return Reply.tagged(
        Reply.status(200).contentType(MediaType.parseMediaType(revision.format().mediaType())),
        revision.text().getBytes(StandardCharsets.UTF_8),
        request);
  }

  /** Answers 200 with the revisions of a form, the one in use marked. */
  @Needs(Right.AUTHOR)
  @GetMapping("/{form}/revisions")
  ResponseEntity<byte[]> revisions(@PathVariable String form, HttpServletRequest request) {
    Caller caller = Caller.current();
    PublishedForm current = submissions.form(form, caller);
    Query.of(request);
    return Reply.ok(
        new Revisions(
            store.forms().revisions(form).stream()
                .map(
                    it ->
                        new RevisionReply(
                            it.number(), it.publishedAt(), it.number() == current.revision()))
                .toList()));
  }

  /** Back to an earlier text: it is published anew, as the next revision. */
  @Logged("publish")
  @Needs(Right.AUTHOR)
  @PutMapping("/{form}/revisions/{number}/current")
  ResponseEntity<byte[]> back(
      @PathVariable String form, @PathVariable String number, HttpServletRequest request) {
    Caller caller = Caller.current();
    submissions.form(form, caller);
    FormPublisher.Manner manner = SharedFiles.manner(request);
    Forms.Revision revision = revisionOf(form, number);
    try {
      return published(
          publisher.publish(
              revision.text(), revision.format(), publisher.registry().named(form), manner));
    } catch (FormFileException e) {
      // What it refers to may have gone since.
      throw Problem.formFile(e);
    }
  }

  private Forms.Revision revisionOf(String form, String number) {
    return store.forms().revisions(form).stream()
        .filter(it -> Integer.toString(it.number()).equals(number))
        .findFirst()
        .orElseThrow(() -> Problem.noSuchRevision(form, number));
  }

  /** What the form has no longer, and keeps. */
  @Needs(Right.AUTHOR)
  @GetMapping("/{form}/retired")
  ResponseEntity<byte[]> retired(@PathVariable String form, HttpServletRequest request) {
    Caller caller = Caller.current();
    submissions.form(form, caller);
    Query.of(request);
    return Reply.ok(new Retired(store.publisher().retired(form)));
  }

  /** Forgets a field that the form has no longer, with all that it kept. */
  @Logged("forget")
  @Needs(Right.ADMIN)
  @DeleteMapping("/{form}/retired/{field}")
  ResponseEntity<byte[]> forget(
      @PathVariable String form, @PathVariable String field, HttpServletRequest request) {
    Caller caller = Caller.current();
    PublishedForm published = submissions.form(form, caller);
    Query.of(request);
    List<RetiredField> forgotten = store.publisher().forget(published.form(), field);
    if (forgotten.isEmpty()) {
      throw noSuchRetired(form, field);
    }
    return Reply.ok(new Forgotten(forgotten));
  }

  private Problem noSuchRetired(String form, String field) {
    List<String> names = store.publisher().retired(form).stream().map(RetiredField::field).toList();
    return Problem.of(
        404,
        "no-such-field",
        "There is no such retired field",
        "Form "
            + form
            + " has retired no field \""
            + Wellformed.of(field)
            + "\"."
            + Near.to(field, names).map(it -> " Did you mean \"" + it + "\"?").orElse(""));
  }

  /**
   * Removes a form: 204.
   *
   * @throws Problem 409 if it has records, and the query does not say {@code records=drop}; or if
   *     another form refers to it
   */
  @Logged("drop")
  @Needs(Right.REMOVE_FORM)
  @DeleteMapping("/{form}")
  ResponseEntity<byte[]> remove(@PathVariable String form, HttpServletRequest request) {
    Caller caller = Caller.current();
    submissions.form(form, caller);
    Optional<String> records = Query.of(request, "records").get("records");
    if (records.filter(it -> !it.equals("drop")).isPresent()) {
      throw Problem.badQuery("\"records\" is drop, or left out.");
    }
    store.publisher().remove(form, records.isPresent());
    return Reply.status(204).build();
  }

  /**
   * Answers 200 with a form as JSON, for whoever draws it: fields that the caller may see, in the
   * language that they ask for. Under a tag, so that who has it already is answered 304.
   */
  @Needs(Right.USE)
  @GetMapping("/{form}")
  ResponseEntity<byte[]> describe(PublishedForm published, HttpServletRequest request) {
    Query.of(request);
    byte[] body =
        Json.bytes(
            Description.of(
                published.form(),
                published.revision(),
                submissions.context(Caller.current(), Optional.empty())));
    return Reply.tagged(
        ResponseEntity.ok()
            .header("Cache-Control", "no-cache")
            .header("Vary", "Accept-Language")
            .header("Content-Language", published.form().language().toLanguageTag())
            .contentType(MediaType.APPLICATION_JSON),
        body,
        request);
  }

  /** Answers 200 with a JSON Schema (2020-12) of the form's values. */
  @Needs(Right.USE)
  @GetMapping("/{form}/schema")
  ResponseEntity<byte[]> schema(PublishedForm published, HttpServletRequest request) {
    Query.of(request);
    Map<String, Object> schema = new LinkedHashMap<>(ValueSchema.of(published.form()));
    schema.put("$id", "/api/forms/" + published.name() + "/schema");
    return ResponseEntity.ok()
        .header("Cache-Control", "no-cache")
        .contentType(MediaType.parseMediaType("application/schema+json"))
        .body(Json.bytes(schema));
  }

  /** Answers 200 with the form file in use, as its author wrote it, under a tag for If-Match. */
  @Needs(Right.AUTHOR)
  @GetMapping("/{form}/file")
  ResponseEntity<byte[]> file(@PathVariable String form, HttpServletRequest request) {
    Caller caller = Caller.current();
    PublishedForm published = submissions.form(form, caller);
    Query.of(request);
    byte[] text = published.text().getBytes(StandardCharsets.UTF_8);
    // Not the revision: a form that is dropped and published anew begins to count again.
    return Reply.tagged(
        Reply.status(200).contentType(MediaType.parseMediaType(published.format().mediaType())),
        text,
        request);
  }
}
