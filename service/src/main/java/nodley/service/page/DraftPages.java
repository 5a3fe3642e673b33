package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.form.Pages;
import nodley.core.input.Input;
import nodley.core.input.MergePatch;
import nodley.core.submission.Context;
import nodley.core.submission.FieldError;
import nodley.core.submission.PageValues;
import nodley.core.submission.Sentences;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.caller.Browsers;
import nodley.service.caller.Caller;
import nodley.service.draft.CallerDrafts;
import nodley.service.http.Query;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.common.StoredRecord;
import nodley.store.draft.Draft;
import nodley.store.record.Version;
import org.springframework.stereotype.Component;

/**
 * Drafts on pages, and the steps of a form that has some: which draft an address names, what its
 * values are, and what the buttons do that keep and discard it and lead from step to step. Needs no
 * script: each button sends the page.
 */
@Component
class DraftPages {

  /** The name of the input that has the id of the draft. */
  static final String DRAFT = "_draft";

  /** The name of the input that has the step that is open. */
  static final String STEP = "_step";

  /** The name of the button that judges the step that is open and leads to the next one. */
  static final String NEXT = "_next";

  /** The name of the buttons that lead to a step, which their value names. */
  static final String GO = "_go";

  /** The name of the button that keeps what is typed for later. */
  static final String KEEP = "_keep";

  /** The name of the button that discards the draft. */
  static final String DISCARD = "_discard";

  /** Another page may change a draft at the same moment; so often it is tried. */
  private static final int ROUNDS = 5;

  private final CallerDrafts drafts;
  private final Submissions submissions;
  private final Browsers browsers;

  DraftPages(CallerDrafts drafts, Submissions submissions, Browsers browsers) {
    this.drafts = drafts;
    this.submissions = submissions;
    this.browsers = browsers;
  }

  /**
   * A page as its address opens it.
   *
   * @param isGone true if the address names a draft that is not there for the caller
   */
  record Opened(Progress progress, boolean isGone) {

    Optional<Draft> draft() {
      return progress.draft();
    }
  }

  /** What the address of a page asks for. */
  Opened open(HttpServletRequest request, Form form, Optional<StoredRecord> record) {
    if (form.drafting().isEmpty()) {
      return new Opened(Progress.NONE, false);
    }
    Optional<String> asked = asked(request, "draft");
    Optional<Draft> draft = asked.flatMap(it -> find(it, request, form, record));
    String step =
        form.pages().stepped()
            ? asked(request, "step").or(() -> draft.map(Draft::step)).orElse("")
            : "";
    List<Draft> others =
        drafts.own(form, record.map(StoredRecord::id), request).stream()
            .filter(it -> draft.isEmpty() || !it.id().equals(draft.get().id()))
            .toList();
    return new Opened(
        new Progress(draft, others, step, Set.of()), asked.isPresent() && draft.isEmpty());
  }

  /** What the address of a page says; one that cannot be read says nothing. */
  private static Optional<String> asked(HttpServletRequest request, String name) {
    try {
      return Query.first(request, name);
    } catch (Problem problem) {
      return Optional.empty();
    }
  }

  private Optional<Draft> find(
      String id, HttpServletRequest request, Form form, Optional<StoredRecord> record) {
    return found(id, request, form, record).map(CallerDrafts.Found::draft);
  }

  private Optional<CallerDrafts.Found> found(
      String id, HttpServletRequest request, Form form, Optional<StoredRecord> record) {
    return drafts
        .find(id, request)
        .filter(it -> it.draft().form().equals(form.name()))
        .filter(it -> it.draft().record().equals(record.map(StoredRecord::id).orElse("")));
  }

  /** Says that a draft is not there, and leads to the page without one. */
  String gone(
      Form form,
      Optional<StoredRecord> record,
      HttpServletRequest request,
      HttpServletResponse response) {
    OutcomeCookie.tell(FormPages.word(form, "page.draft.gone"), response);
    return FormView.address(form, record.map(StoredRecord::id), request);
  }

  /** The values of a draft, as if they were sent; of an edit, put into what the record had. */
  Input input(Form form, Draft draft, Optional<StoredRecord> record) {
    Map<String, Raw> typed = draft.values().members();
    return record
        .map(
            it -> {
              Raw.Members kept =
                  it.version() == draft.recordVersion()
                      ? Raw.withRows(it.values())
                      : submissions
                          .version(form, it.id(), draft.recordVersion())
                          .map(Version::kept)
                          .orElseGet(() -> Raw.withRows(it.values()));
              return new Input(MergePatch.apply(kept.members(), typed), Input.Encoding.JSON);
            })
        .orElseGet(() -> new Input(typed, Input.Encoding.JSON));
  }

  /**
   * How far a page is that was sent.
   *
   * @param errors what it is refused for: the first of them says which step opens
   */
  Progress sent(
      HttpServletRequest request,
      Form form,
      Optional<StoredRecord> record,
      Input input,
      List<FieldError> errors) {
    if (form.drafting().isEmpty()) {
      return Progress.NONE;
    }
    Optional<Draft> draft = text(input, DRAFT).flatMap(it -> find(it, request, form, record));
    String step =
        !form.pages().stepped()
            ? ""
            : errors.stream()
                .findFirst()
                .map(it -> Progress.of(form, it.pointer().split("/", -1)[1]))
                .orElseGet(() -> text(input, STEP).orElse(""));
    return new Progress(draft, List.of(), step, hidden(form, record, input));
  }

  private Set<String> hidden(Form form, Optional<StoredRecord> record, Input input) {
    Caller caller = Caller.current();
    return form.pages().stepped()
        ? submissions.forPage(form, input, submissions.context(caller, record), caller).hidden()
        : Set.of();
  }

  /**
   * What was typed, for the page that shows it again: with the files that it refers to, and what
   * the rules leave out.
   */
  PageValues values(Form form, Optional<StoredRecord> record, Input input) {
    Caller caller = Caller.current();
    Context context = submissions.context(caller, record);
    PageValues typed = submissions.forPage(form, input, context, caller);
    Values judged = submissions.check(form, input, context, caller, Optional.empty()).values();
    Map<String, Value> values = new LinkedHashMap<>(judged.byName());
    typed.hidden().forEach(name -> values.put(name, typed.values().get(name)));
    return new PageValues(new Values(values), typed.hidden());
  }

  /** The id of the draft that a page finishes; empty if it has none. */
  String finished(HttpServletRequest request, Form form, Input input) {
    return drafts.finished(request, form, text(input, DRAFT).orElse(""));
  }

  private static Optional<String> text(Input input, String name) {
    return input.get(name).map(Raw::shown).filter(it -> !it.isEmpty());
  }

  /** What pressing a button comes to. */
  sealed interface Press {

    /** Another page opens. */
    record Leads(String address) implements Press {}

    /** The step is not finished. */
    record Stays(Values values, List<FieldError> errors, Progress progress) implements Press {}
  }

  /** Does what a button says, if it is one of these; nothing typed is lost in any case. */
  Optional<Press> pressed(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      Optional<StoredRecord> record,
      Input input) {
    if (form.drafting().isEmpty()) {
      return Optional.empty();
    }
    if (input.get(DISCARD).isPresent()) {
      text(input, DRAFT).flatMap(it -> find(it, request, form, record)).ifPresent(drafts::discard);
      OutcomeCookie.tell(FormPages.word(form, "page.draft.discarded"), response);
      return Optional.of(
          new Press.Leads(FormView.address(form, record.map(StoredRecord::id), request)));
    }
    if (input.get(NEXT).isPresent()) {
      return Optional.of(next(request, response, form, record, input));
    }
    if (input.get(KEEP).isPresent()) {
      String step = text(input, STEP).orElse("");
      Draft draft = keep(request, response, form, record, input, step);
      OutcomeCookie.tell(kept(form, draft), response);
      return Optional.of(leads(request, form, record, draft, step));
    }
    return text(input, GO)
        .map(
            it ->
                leads(request, form, record, keep(request, response, form, record, input, it), it));
  }

  private String kept(Form form, Draft draft) {
    return Sentences.of(form)
        .word(
            "page.draft.kept",
            Map.of("time", new Value.Text(DraftView.time(form, draft.updatedAt()))));
  }

  private Press next(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      Optional<StoredRecord> record,
      Input input) {
    Caller caller = Caller.current();
    Progress progress = sent(request, form, record, input, List.of());
    String current = progress.open(form);
    Set<String> fields = fields(form, current, progress);
    List<FieldError> errors =
        submissions
            .check(form, input, submissions.context(caller, record), caller, Optional.of(fields))
            .errors();
    String step = errors.isEmpty() ? progress.after(form, current) : current;
    Draft draft = keep(request, response, form, record, input, step);
    if (errors.isEmpty()) {
      return leads(request, form, record, draft, step);
    }
    return new Press.Stays(
        values(form, record, input).values(),
        errors,
        new Progress(Optional.of(draft), List.of(), current, progress.hidden()));
  }

  /** The fields of a step that are shown; the overview has none to judge. */
  private static Set<String> fields(Form form, String step, Progress progress) {
    Set<String> fields = new LinkedHashSet<>();
    for (Pages.Section section : form.pages().sections()) {
      if (section.name().equals(step)) {
        section.fields().stream()
            .filter(it -> !progress.hidden().contains(it))
            .filter(it -> form.field(it).filter(field -> !field.isSecret()).isPresent())
            .forEach(fields::add);
      }
    }
    return fields;
  }

  private static Press leads(
      HttpServletRequest request,
      Form form,
      Optional<StoredRecord> record,
      Draft draft,
      String step) {
    return new Press.Leads(
        FormView.address(form, record.map(StoredRecord::id), request, draft.id(), step));
  }

  /** Keeps what the page has: in its draft, or in a new one. */
  private Draft keep(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      Optional<StoredRecord> record,
      Input input,
      String step) {
    Map<String, Raw> typed =
        new LinkedHashMap<>(TypedPage.of(form, record.isPresent(), input).members());
    Problem last = null;
    for (int i = 0; i < ROUNDS; i++) {
      Optional<CallerDrafts.Found> found =
          text(input, DRAFT).flatMap(it -> found(it, request, form, record));
      if (found.isEmpty()) {
        return drafts.begin(
            form,
            new CallerDrafts.Begun(
                record,
                FormPages.version(input).filter(it -> it > 0 && record.isPresent()),
                new Raw.Members(typed),
                step,
                browsers.uploader(request, response)),
            request);
      }
      // What the form has no field for any more goes here, where the page has shown it.
      List<String> all = new ArrayList<>(found.get().draft().values().members().keySet());
      all.removeAll(typed.keySet());
      all.removeAll(form.fields().names());
      all.forEach(it -> typed.put(it, new Raw.Null()));
      try {
        return drafts.change(
            found.get(), found.get().draft().version(), new Raw.Members(typed), step);
      } catch (Problem problem) {
        if (problem.status() != 412) {
          throw problem;
        }
        last = problem;
      }
    }
    throw last;
  }
}
