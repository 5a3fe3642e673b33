package nodley.service.draft;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Clock;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import nodley.core.form.Drafting;
import nodley.core.form.Form;
import nodley.core.form.Pages;
import nodley.core.input.Input;
import nodley.core.input.MergePatch;
import nodley.core.submission.FieldError;
import nodley.core.submission.Submission;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;
import nodley.service.access.AccessCheck;
import nodley.service.access.Right;
import nodley.service.caller.Browsers;
import nodley.service.caller.Caller;
import nodley.service.http.OpenPage;
import nodley.service.http.Query;
import nodley.service.limits.Network;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.access.Encryption;
import nodley.store.common.StoredRecord;
import nodley.store.draft.Draft;
import nodley.store.draft.DraftException;
import nodley.store.draft.Drafts;
import nodley.store.form.PublishedForm;
import org.springframework.stereotype.Component;

/**
 * Begins, finds, changes and discards drafts for whoever sends a request, for the wire and the
 * pages alike. Thread-safe.
 */
@Component
public final class CallerDrafts {

  private final Drafts drafts;
  private final Store store;
  private final Submissions submissions;
  private final AccessCheck access;
  private final Browsers browsers;
  private final DraftValues values;
  private final Clock clock;

  CallerDrafts(
      Store store, Submissions submissions, AccessCheck access, Browsers browsers, Clock clock) {
    this.store = store;
    this.drafts = store.drafts();
    this.submissions = submissions;
    this.access = access;
    this.browsers = browsers;
    this.values = new DraftValues(new Encryption(store.tokens(), "drafts"));
    this.clock = clock;
  }

  /**
   * What a draft begins with.
   *
   * @param record the record that is edited; empty if one is to be added
   * @param version the version of that record that the edit begins from
   * @param typed the values, as they were typed
   * @param owner whose it will be, as {@link Caller#uploader}
   */
  public record Begun(
      Optional<StoredRecord> record,
      Optional<Long> version,
      Raw.Members typed,
      String step,
      String owner) {}

  /**
   * Begins a draft.
   *
   * @param form as the caller has it
   * @throws Problem 404 if the form keeps none; 422 for a name that it does not have; 429 if there
   *     are as many as may be
   */
  public Draft begin(Form form, Begun begun, HttpServletRequest request) {
    Drafting drafting = drafting(form);
    Raw.Members typed =
        new Raw.Members(MergePatch.apply(Map.of(), checked(form, begun.typed()).members()));
    boolean known = Caller.current().isKnown();
    try {
      return opened(
          form,
          drafts.begin(
              new Draft.Begun(
                  form.name(),
                  begun.record().map(StoredRecord::id).orElse(""),
                  begun.version().or(() -> begun.record().map(StoredRecord::version)).orElse(0L),
                  begun.owner(),
                  known ? "" : Network.of(request.getRemoteAddr()),
                  values.sealed(whole(form).fields(), typed),
                  step(form, begun.step()),
                  drafting.end(clock.instant()))));
    } catch (DraftException e) {
      throw problem(form, e);
    }
  }

  private Problem problem(Form form, DraftException failure) {
    return switch (failure) {
      case DraftException.TooMany _ ->
          Problem.of(429, "too-many-drafts", "There are too many drafts", failure.getMessage())
              .header("Retry-After", "60");
      case DraftException.Outdated outdated -> outdated(opened(form, outdated.current()));
      case DraftException.Gone _ -> noSuchDraft();
    };
  }

  /** How a form keeps drafts, or the problem that it keeps none. */
  private static Drafting drafting(Form form) {
    return form.drafting()
        .orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-drafts",
                    "The form keeps no drafts",
                    "Form " + form.name() + " keeps no drafts; its form file has no `draft`."));
  }

  /** The form with all its fields, for what is kept is kept for all who may see it. */
  private Form whole(Form form) {
    return store.forms().find(form.name()).map(PublishedForm::form).orElse(form);
  }

  /**
   * What was sent, without what the caller may not change.
   *
   * @throws Problem 422 for a name that no field has, nor had: an open page may be older than the
   *     form
   */
  private Raw.Members checked(Form form, Raw.Members typed) {
    Raw.Members visible = DraftValues.visible(form.fields(), typed);
    List<FieldError> unknown =
        Submission.unknownNames(
                form,
                new Input(visible.members(), Input.Encoding.JSON),
                submissions.context(Caller.current(), Optional.empty()))
            .stream()
            .filter(it -> !drafts.wasField(form.name(), path(it.pointer())))
            .toList();
    if (!unknown.isEmpty()) {
      throw Problem.of(422, "refused", "The draft was refused", unknown.getFirst().detail())
          .with("errors", unknown);
    }
    return visible;
  }

  /** The dotted path of the field that a pointer leads to, in whatever row. */
  private static String path(String pointer) {
    return Arrays.stream(pointer.split("/", -1))
        .skip(1)
        .filter(it -> !it.matches("[0-9]+"))
        .collect(Collectors.joining("."));
  }

  private static String step(Form form, String step) {
    boolean known =
        step.isEmpty()
            || form.pages().stepped()
                && (step.equals(Pages.OVERVIEW)
                    || form.pages().sections().stream().anyMatch(it -> it.name().equals(step)));
    if (!known) {
      throw Problem.badQuery(
          "\"step\" is a step of the form, and \"" + Wellformed.of(step) + "\" is none.");
    }
    return step;
  }

  /**
   * A draft as the caller has it.
   *
   * @param form as the caller has it
   */
  public record Found(Form form, Draft draft) {}

  /** Returns a draft that the caller may work on; empty if there is none such. */
  public Optional<Found> find(String id, HttpServletRequest request) {
    adopt(request);
    return drafts.find(id).flatMap(this::found);
  }

  private Optional<Found> found(Draft draft) {
    Caller caller = Caller.current();
    if (store.forms().find(draft.form()).isEmpty()) {
      return Optional.empty();
    }
    Form form = submissions.form(draft.form(), caller).form();
    boolean own = draft.owner().isEmpty() || draft.owner().equals(caller.uploader());
    boolean joint = form.drafting().filter(Drafting::joint).isPresent();
    return (own || joint) && access.allows(Right.DRAFT, form, record(draft))
        ? Optional.of(new Found(form, opened(form, draft)))
        : Optional.empty();
  }

  private static Optional<String> record(Draft draft) {
    return Optional.of(draft.record()).filter(it -> !it.isEmpty());
  }

  /** The same, or the problem that there is none. */
  public Found get(String id, HttpServletRequest request) {
    return find(id, request).orElseThrow(CallerDrafts::noSuchDraft);
  }

  private static Problem noSuchDraft() {
    return Problem.of(
        404,
        "no-such-draft",
        "There is no such draft",
        "There is no such draft of yours, or it is over: it was sent, discarded, or its time"
            + " ended.");
  }

  /** The caller's own drafts, what was changed last coming first. */
  public List<Found> own(HttpServletRequest request) {
    adopt(request);
    return drafts.of(Caller.current().uploader()).stream()
        .flatMap(draft -> found(draft).stream())
        .toList();
  }

  /** All drafts of an owner, with all that is in them, for whoever may hand that out. */
  public List<Draft> of(String owner) {
    return drafts.of(owner).stream()
        .map(
            draft ->
                store
                    .forms()
                    .find(draft.form())
                    .map(it -> draft.with(values.opened(it.form().fields(), draft.values())))
                    .orElse(draft))
        .toList();
  }

  /**
   * The caller's own drafts of one form.
   *
   * @param record of edits of this record; empty for adds
   */
  public List<Draft> own(Form form, Optional<String> record, HttpServletRequest request) {
    if (form.drafting().isEmpty()) {
      return List.of();
    }
    adopt(request);
    return drafts.of(Caller.current().uploader()).stream()
        .filter(it -> it.form().equals(form.name()) && it.record().equals(record.orElse("")))
        .toList();
  }

  /** What a stranger began in this browser is theirs once they have signed in. */
  private void adopt(HttpServletRequest request) {
    Caller caller = Caller.current();
    if (!caller.person().isEmpty()) {
      browsers.owner(request).ifPresent(browser -> drafts.handOver(browser, caller.uploader()));
    }
  }

  /**
   * Changes a draft.
   *
   * @param patch a JSON Merge Patch of the values as they were typed
   * @param step the step that is open now; empty if that is not said
   * @throws Problem 412 if somebody changed it since; 404 if it is gone; 429 if it grows too large
   */
  public Draft change(Found found, long version, Raw.Members patch, String step) {
    Form form = found.form();
    Raw.Members changes = checked(form, patch);
    Draft before = drafts.find(found.draft().id()).orElseThrow(CallerDrafts::noSuchDraft);
    if (before.version() != version) {
      throw outdated(opened(form, before));
    }
    Drafting drafting = form.drafting().orElse(Drafting.USUAL);
    Form whole = whole(form);
    Raw.Members all = values.opened(whole.fields(), before.values());
    Raw.Members patched = new Raw.Members(MergePatch.apply(all.members(), changes.members()));
    try {
      return opened(
          form,
          drafts.change(
              before.id(),
              version,
              values.sealed(whole.fields(), patched),
              step.isEmpty() ? before.step() : step(form, step),
              drafting.end(clock.instant())));
    } catch (DraftException e) {
      throw problem(form, e);
    }
  }

  /** 412 with the draft as it is. */
  private static Problem outdated(Draft current) {
    return Problem.of(
            412,
            "outdated",
            "The draft was changed since",
            "The draft is at version "
                + current.version()
                + " by now, from another page perhaps. Look at its values, then send again with"
                + " If-Match: \""
                + current.version()
                + "\".")
        .header("ETag", "\"" + current.version() + "\"")
        .with("version", current.version())
        .with("values", current.values().toJson());
  }

  /** Discards a draft, with its files. */
  public void discard(Draft draft) {
    drafts.remove(draft.id());
  }

  /** A draft with the values that the caller may see, as they were typed. */
  private Draft opened(Form form, Draft draft) {
    Raw.Members typed = values.opened(whole(form).fields(), draft.values());
    return draft.with(DraftValues.visible(form.fields(), typed));
  }

  /** The values of which the form has no field any more, by their names. */
  public static Map<String, Raw> leftOver(Form form, Draft draft) {
    Map<String, Raw> left = new LinkedHashMap<>(draft.values().members());
    left.keySet().removeAll(form.fields().names());
    left.values().removeIf(Raw::isBlank);
    return left;
  }

  /** Returns the draft that a submission finishes, as its query tells; empty if it is none. */
  public String finished(HttpServletRequest request, Form form) {
    // Most requests have no query.
    return request.getQueryString() == null
        ? ""
        : finished(
            request,
            form,
            Query.first(request, "draft")
                .orElseGet(() -> Drafts.ofPage(OpenPage.of(request, store, form))));
  }

  /** The same, as what was sent tells. */
  public String finished(HttpServletRequest request, Form form, String id) {
    return Optional.of(id)
        .filter(it -> !it.isEmpty())
        .flatMap(it -> find(it, request))
        .map(Found::draft)
        .filter(it -> it.form().equals(form.name()))
        .map(Draft::id)
        .orElse("");
  }
}
