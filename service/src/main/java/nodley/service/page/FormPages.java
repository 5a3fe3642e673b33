package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.net.URI;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Supplier;
import java.util.stream.Stream;
import nodley.core.form.Access;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Pages;
import nodley.core.form.Theme;
import nodley.core.input.Input;
import nodley.core.input.TypedNumbers;
import nodley.core.submission.Context;
import nodley.core.submission.FieldError;
import nodley.core.submission.Lookups;
import nodley.core.submission.PageValues;
import nodley.core.submission.Sentences;
import nodley.core.submission.Submission;
import nodley.core.submission.Verdict;
import nodley.core.text.Notation;
import nodley.core.value.Raw;
import nodley.core.value.Values;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.caller.RequestedLanguages;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Repeatable;
import nodley.service.problem.Json;
import nodley.service.submission.Afterwards;
import nodley.service.submission.Displays;
import nodley.service.submission.Options;
import nodley.service.submission.Submissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.draft.Draft;
import nodley.store.record.SubmissionInfo;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * What the pages that add and those that edit have in common: one template in two modes, the page
 * again with a row more or less, a refusal with its errors at their fields, and going on once
 * something is accepted.
 */
@Component
class FormPages {

  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Raw.Members NO_VALUES = Raw.of(Values.NONE);

  private final Submissions submissions;
  private final Options options;
  private final FileViews files;
  private final Templates templates;
  private final Displays displays;
  private final Repeatable repeatable;
  private final ThemeController looks;
  private final PageSize pageSize;
  private final Bodies bodies;
  private final Trap trap;
  private final DraftPages drafts;
  private final RecordLines lines;
  private final Clock clock;

  FormPages(
      Submissions submissions,
      Options options,
      FileViews files,
      Templates templates,
      Displays displays,
      Repeatable repeatable,
      ThemeController looks,
      PageSize pageSize,
      Bodies bodies,
      Trap trap,
      DraftPages drafts,
      RecordLines lines,
      Clock clock) {
    this.drafts = drafts;
    this.lines = lines;
    this.clock = clock;
    this.files = files;
    this.trap = trap;
    this.pageSize = pageSize;
    this.bodies = bodies;
    this.looks = looks;
    this.submissions = submissions;
    this.options = options;
    this.templates = templates;
    this.displays = displays;
    this.repeatable = repeatable;
  }

  /**
   * A page that adds or edits.
   *
   * @param record the one that is edited; empty to add
   * @param errors of fields
   * @param besides errors that no field of the page can show, as sentences
   * @param differences what somebody else changed in the record meanwhile
   */
  FormView view(
      HttpServletRequest request,
      Form form,
      Optional<StoredRecord> record,
      Values values,
      List<FieldError> errors,
      List<String> besides,
      List<FormView.Difference> differences,
      Progress progress) {
    return view(
        request, form, record, values, errors, besides, differences, progress, Optional.empty());
  }

  private FormView view(
      HttpServletRequest request,
      Form form,
      Optional<StoredRecord> record,
      Values values,
      List<FieldError> errors,
      List<String> besides,
      List<FormView.Difference> differences,
      Progress progress,
      Optional<ButtonPress> press) {
    Caller caller = Caller.current();
    Display display = displays.of(caller).in(Notation.of(form.language()));
    FieldViews views =
        new FieldViews(form, values, record, errors, options, files, display, caller, press);
    List<FieldView> fields = views.all();
    Mode mode = record.isPresent() ? Mode.EDIT : Mode.ADD;
    long version =
        press
            .flatMap(it -> version(it.input()))
            // At a conflict, what is sent next is meant for the record as it is.
            .or(
                () ->
                    progress
                        .draft()
                        .filter(it -> it.isEdit() && differences.isEmpty())
                        .map(Draft::recordVersion))
            .or(() -> record.map(StoredRecord::version))
            .orElse(0L);
    return new FormView(
        form,
        mode,
        form.title(mode, record.map(StoredRecord::values).orElse(Values.NONE), display),
        record.map(StoredRecord::id).orElse(""),
        version,
        press.flatMap(it -> key(it.input())).orElseGet(() -> UUID.randomUUID().toString()),
        mode == Mode.ADD ? trap.opened(form, request) : "",
        RequestedLanguages.query(request),
        fields,
        Stream.concat(besides.stream(), views.rest().stream().map(FieldError::detail)).toList(),
        differences,
        progress,
        DraftView.of(
            form,
            progress,
            address(request, form, record),
            clock.instant(),
            it -> record.isPresent() ? "" : called(form, it, display)),
        overview(request, form, record, values, progress),
        record.map(it -> before(form, it, version)).orElse("{}"),
        looks.of(form));
  }

  /** What a draft calls the record that it is to be; empty if that is not filled in. */
  private String called(Form form, Draft draft, Display display) {
    Caller caller = Caller.current();
    Input typed = drafts.input(form, draft, Optional.empty());
    Context context = submissions.context(caller, Optional.empty());
    String called =
        form.called(submissions.forPage(form, typed, context, caller).values(), display);
    return called.equals(form.label()) ? "" : called;
  }

  /** The address of the page, for what is to stand in its query. */
  private static String address(
      HttpServletRequest request, Form form, Optional<StoredRecord> record) {
    String address = FormView.address(form, record.map(StoredRecord::id), request);
    return address + (address.contains("?") ? "&" : "?");
  }

  private List<FormView.Overview> overview(
      HttpServletRequest request,
      Form form,
      Optional<StoredRecord> record,
      Values values,
      Progress progress) {
    if (!form.pages().stepped() || !progress.open(form).equals(Pages.OVERVIEW)) {
      return List.of();
    }
    String draft = progress.draft().map(Draft::id).orElse("");
    return form.pages().sections().stream()
        .filter(it -> progress.isShown(form, it))
        .map(
            it ->
                FormView.Overview.of(
                    form,
                    it,
                    lines.of(
                        form,
                        record,
                        values,
                        Caller.current(),
                        it.fields().stream()
                            .filter(name -> !progress.hidden().contains(name))
                            .toList()),
                    FormView.address(
                        form, record.map(StoredRecord::id), request, draft, it.name())))
        .toList();
  }

  /** What an address opens: the blank page or the record, or a draft of it. */
  ResponseEntity<byte[]> opened(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      Optional<StoredRecord> record,
      Supplier<Input> blank) {
    DraftPages.Opened opened = drafts.open(request, form, record);
    if (opened.isGone()) {
      return onwards(drafts.gone(form, record, request, response));
    }
    boolean isAsStored = record.isPresent() && opened.draft().isEmpty();
    PageValues values =
        isAsStored && !form.pages().stepped()
            ? new PageValues(record.get().values(), Set.of())
            : drafts.values(
                form,
                record,
                opened.draft().map(it -> drafts.input(form, it, record)).orElseGet(blank));
    Progress progress = opened.progress().leaving(values.hidden());
    FormView view =
        view(request, form, record, values.values(), List.of(), List.of(), List.of(), progress);
    return page(HttpStatus.OK, view, OutcomeCookie.take(request, response));
  }

  /**
   * The page of a form that need not be published, which knows nothing of what is kept.
   *
   * @param theme in place of the form's own
   */
  ResponseEntity<byte[]> proposed(
      HttpServletRequest request, Form form, Optional<StoredRecord> record, Optional<Theme> theme) {
    Context context = submissions.context(Caller.current(), record);
    PageValues values =
        Submission.forPage(
            form,
            Submissions.input(record.map(it -> Raw.withRows(it.values())).orElse(NO_VALUES)),
            context,
            Lookups.NONE);
    FormView view =
        view(
            request,
            form,
            record,
            values.values(),
            List.of(),
            List.of(),
            List.of(),
            Progress.NONE.leaving(values.hidden()));
    PageTheme look = view.look();
    return page(HttpStatus.OK, theme.map(it -> view.with(look.with(it))).orElse(view), "");
  }

  /** Does what a button of drafts or steps says, if one was pressed. */
  Optional<ResponseEntity<byte[]>> kept(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      Optional<StoredRecord> record,
      Input input) {
    return drafts
        .pressed(request, response, form, record, input)
        .map(
            press ->
                switch (press) {
                  case DraftPages.Press.Leads(String address) -> onwards(address);
                  case DraftPages.Press.Stays stays ->
                      page(
                          HttpStatus.UNPROCESSABLE_CONTENT,
                          view(
                              request,
                              form,
                              record,
                              stays.values(),
                              stays.errors(),
                              List.of(),
                              List.of(),
                              stays.progress()),
                          "");
                });
  }

  /** How far a page is that was sent. */
  Progress progress(
      HttpServletRequest request,
      Form form,
      Optional<StoredRecord> record,
      Input input,
      List<FieldError> errors) {
    return drafts.sent(request, form, record, input, errors);
  }

  /** The values that the page was opened with, for its script. */
  private String before(Form form, StoredRecord record, long version) {
    Raw.Members values =
        version == record.version()
            ? Raw.withRows(form.fields().onPages(record.values()))
            : submissions
                .version(form, record.id(), version)
                .map(it -> form.fields().onPages(form.fields().known(it.kept())))
                .orElse(NO_VALUES);
    return Json.inScript(FileViews.referring(form.fields(), values).toJson());
  }

  /**
   * A page as HTML.
   *
   * @param said what has become of the last submission, as a sentence; empty for nothing
   */
  ResponseEntity<byte[]> page(HttpStatus status, FormView view, String said) {
    return templates.reply(status, view.look(), view.words(), view.headline(), "form", view, said);
  }

  /**
   * The page again, with a row more or less; nothing is judged, and nobody is told of errors. What
   * was typed still begins from the version that the page was opened with.
   */
  ResponseEntity<byte[]> pressed(
      HttpServletRequest request, Form form, Optional<StoredRecord> record, ButtonPress press) {
    Caller caller = Caller.current();
    Values values =
        submissions
            .check(
                form, press.input(), submissions.context(caller, record), caller, Optional.empty())
            .values();
    FormView view =
        view(
            request,
            form,
            record,
            values,
            List.of(),
            List.of(),
            List.of(),
            progress(request, form, record, press.input(), List.of()),
            Optional.of(press));
    return page(HttpStatus.OK, view, "");
  }

  /** The page again with what was typed and its errors: 422. */
  ResponseEntity<byte[]> refused(
      HttpServletRequest request,
      Form form,
      Optional<StoredRecord> record,
      Input input,
      Verdict verdict,
      List<String> besides) {
    return page(
        HttpStatus.UNPROCESSABLE_CONTENT,
        view(
            request,
            form,
            record,
            verdict.values(),
            verdict.errors(),
            besides,
            List.of(),
            progress(request, form, record, input, verdict.errors())),
        "");
  }

  /** What was typed: numbers in the page's language come to standard form. */
  Input typed(Form form, Body body) {
    Input input = bodies.submission(body);
    pageSize.pass(form.fields(), input.members());
    return input.get(FormView.LANGUAGE).isPresent()
        ? TypedNumbers.standard(input, form.fields(), Notation.of(form.language()))
        : input;
  }

  /** How a page's submission came; sent twice, it is kept once. */
  SubmissionInfo sent(HttpServletRequest request, Body body, Form form, Mode mode, Input input) {
    return repeatable.sent(
        request,
        body.identity(),
        form,
        mode,
        key(input),
        "",
        drafts.finished(request, form, input));
  }

  /** The idempotency key that the page was opened with. */
  private static Optional<String> key(Input input) {
    return input.get(FormView.KEY).map(Raw::shown).filter(Repeatable::isKey);
  }

  /** The version of the record that the page was opened with; 0 is for none. */
  static Optional<Long> version(Input input) {
    return input
        .get(FormView.VERSION)
        .map(Raw::shown)
        .filter(it -> it.matches("[0-9]{1,18}"))
        .map(Long::valueOf);
  }

  /** What was accepted before goes on as it did then, however often the page is sent. */
  ResponseEntity<byte[]> once(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      Optional<StoredRecord> record,
      Input input,
      SubmissionInfo sent,
      AttemptRecorder attempt,
      Supplier<ResponseEntity<byte[]>> send) {
    try {
      return repeatable.once(
          form,
          sent,
          attempt,
          send,
          answer -> answer.getStatusCode().is3xxRedirection(),
          answer -> again(answer, request, response));
    } catch (StoreException.KeyReused e) {
      // Somebody went back to a page that was accepted, and sends something else from there.
      Caller caller = Caller.current();
      Verdict verdict =
          submissions.check(
              form, input, submissions.context(caller, record), caller, Optional.empty());
      attempt.stopped(verdict, "key-reused");
      return refused(request, form, record, input, verdict, List.of(word(form, "page.sent")));
    }
  }

  private static ResponseEntity<byte[]> again(
      String answer, HttpServletRequest request, HttpServletResponse response) {
    JsonNode after = JSON.readTree(answer).path("after");
    OutcomeCookie.tell(after.path("say").asString(), response);
    return onwards(after.path("go").asString(), request);
  }

  /**
   * Leads on after an acceptance, as the form says: 303. The sentence of thanks goes in a cookie.
   */
  ResponseEntity<byte[]> onwards(
      Form form,
      Mode mode,
      StoredRecord record,
      HttpServletRequest request,
      HttpServletResponse response) {
    Caller caller = Caller.current();
    OutcomeCookie.tell(
        displays.of(caller).fill(form.after(mode).say(), form, record.values()), response);
    boolean maySee = Authorization.may(caller, form, Access::see, record);
    return onwards(Afterwards.address(form, mode, record, maySee), request);
  }

  /** The service's own pages go on in the language that the address asked for. */
  private static ResponseEntity<byte[]> onwards(String address, HttpServletRequest request) {
    boolean own = address.startsWith("/forms/") && !address.contains("?") && !address.contains("#");
    return onwards(own ? address + RequestedLanguages.query(request) : address);
  }

  /** Leads to an address with a GET: 303 (RFC 9110, section 15.4.4). */
  static ResponseEntity<byte[]> onwards(String address) {
    return ResponseEntity.status(HttpStatus.SEE_OTHER).location(URI.create(address)).build();
  }

  /** A word of pages in the language of a form. */
  static String word(Form form, String key) {
    return Sentences.of(form).word(key, Map.of());
  }
}
