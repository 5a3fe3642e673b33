package nodley.service.submission;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import nodley.core.expression.Expression;
import nodley.core.form.Access;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.submission.Answer;
import nodley.core.submission.Context;
import nodley.core.submission.Offer;
import nodley.core.submission.PageValues;
import nodley.core.submission.RecordSink;
import nodley.core.submission.Selection;
import nodley.core.submission.Steps;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.core.submission.Verdict;
import nodley.core.value.Raw;
import nodley.core.value.Values;
import nodley.service.ask.AskedServices;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.delivery.CausedDeliveries;
import nodley.service.limits.Limits;
import nodley.service.live.Change;
import nodley.service.live.Feed;
import nodley.service.problem.Problem;
import nodley.service.source.SourceDatabases;
import nodley.service.upload.Uploading;
import nodley.store.Store;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Caused;
import nodley.store.form.PublishedForm;
import nodley.store.record.RemovedRecords;
import nodley.store.record.SubmissionInfo;
import nodley.store.record.Version;
import nodley.store.unique.Holds;
import org.springframework.stereotype.Component;

/**
 * Checks, adds and edits: runs the pipeline with the store behind it, for the wire and the pages
 * alike. Repeats a submission whose form was published anew meanwhile. Thread-safe.
 */
@Component
public final class Submissions {

  /** How often a submission is judged anew because its form was published meanwhile. */
  private static final int MAX_ROUNDS = 5;

  private final Store store;
  private final Displays displays;
  private final Uploading uploads;
  private final AskedServices outside;
  private final SourceDatabases sources;
  private final Secrets secrets;
  private final Feed<Change> changes;
  private final CausedDeliveries deliveries;

  /** Removed records can be put back for a while. */
  private final boolean canPutBack;

  Submissions(
      Store store,
      Displays displays,
      Uploading uploads,
      AskedServices outside,
      SourceDatabases sources,
      Secrets secrets,
      Feed<Change> changes,
      CausedDeliveries deliveries,
      Limits limits) {
    this.canPutBack = !limits.removed().kept().isZero();
    this.deliveries = deliveries;
    this.uploads = uploads;
    this.outside = outside;
    this.sources = sources;
    this.secrets = secrets;
    this.changes = changes;
    this.store = store;
    this.displays = displays;
  }

  /** The current revision of a form as the caller reads it, or the problem that there is none. */
  public PublishedForm form(String name, Caller caller) {
    return store
        .forms()
        .find(name)
        .map(it -> Authorization.seen(it, caller))
        .orElseThrow(
            () ->
                Problem.noSuchForm(
                    name,
                    store.forms().all().stream()
                        .filter(form -> Authorization.mayUse(caller, form.form()))
                        .map(PublishedForm::name)
                        .toList()));
  }

  /** A record of a form, or the problem that there is none. */
  public StoredRecord record(Form form, String id) {
    return store.records().find(form, id).orElseThrow(() -> Problem.noSuchRecord(form.name(), id));
  }

  /**
   * The record that a form has without its being named: the only one, or the caller's own; nothing
   * before its first save.
   *
   * @throws Problem 403 if each person has one, and the caller is a program
   */
  public Optional<StoredRecord> only(Form form, Caller caller) {
    if (form.isOneEach() && caller.person().isEmpty()) {
      throw Problem.of(
          403,
          "not-allowed",
          "You may not do this",
          "Each person has one record of "
              + form.name()
              + ", and a key is no person: name a record.");
    }
    return store.records().only(form, caller.person());
  }

  /** What a record was at a version; nothing if there was none of this number. */
  public Optional<Version> version(Form form, String id, long number) {
    return store.records().version(form, id, number);
  }

  /** A verdict, about some fields or about all. */
  public Verdict check(
      Form form, Input input, Context context, Caller caller, Optional<Set<String>> only) {
    return check(form, input, context, caller, only, Steps.UNTIMED);
  }

  /** What was typed, for a page that shows it again. */
  public PageValues forPage(Form form, Input input, Context context, Caller caller) {
    return Submission.forPage(form, input, context, lookups(caller));
  }

  /** The same, telling how long each step takes. */
  public Verdict check(
      Form form,
      Input input,
      Context context,
      Caller caller,
      Optional<Set<String>> only,
      Steps steps) {
    return Submission.check(form, input, context, lookups(caller, steps, ""), only, steps);
  }

  /**
   * A verdict for an open page, and until when its free unique values are held for it, by their
   * pointers.
   */
  public record Held(Verdict verdict, Map<String, Instant> until) {}

  /**
   * A verdict for an open page, whose own holds do not stand in its way.
   *
   * @param hold true if what is free is to be held for it
   */
  public Held check(
      Form form,
      Input input,
      Context context,
      Caller caller,
      Optional<Set<String>> only,
      Steps steps,
      Holds.Holder holder,
      boolean hold) {
    StoreLookups lookups = lookups(caller, steps, holder.page());
    Verdict verdict = Submission.check(form, input, context, lookups, only, steps);
    List<UniqueKey> free = hold ? lookups.free() : List.of();
    if (free.isEmpty()) {
      return new Held(verdict, Map.of());
    }
    Map<Integer, Instant> held = store.holds().hold(form, free, holder);
    if (held.size() < free.size()) {
      // Somebody may have come first at this very moment; the verdict must know.
      StoreLookups again = lookups(caller, steps, holder.page());
      verdict = Submission.check(form, input, context, again, only, steps);
    }
    Map<String, Instant> until = new LinkedHashMap<>();
    held.forEach((i, end) -> until.put("#/" + String.join("/", free.get(i).unique().at()), end));
    return new Held(verdict, until);
  }

  private StoreLookups lookups(Caller caller, Steps steps, String page) {
    return new StoreLookups(store, displays, uploads, outside, sources, caller, steps, page);
  }

  /** The lookups of a caller, of no open page. */
  StoreLookups lookups(Caller caller) {
    return lookups(caller, Steps.UNTIMED, "");
  }

  /** The context of an add, or of an edit of a record. */
  public Context context(Caller caller, Optional<StoredRecord> record) {
    Context context = displays.context(caller);
    return record.map(it -> context.editing(it.id(), it.values())).orElse(context);
  }

  /** What a field offers, given other values. */
  public Offer offer(
      Form form, List<String> path, Input input, Optional<StoredRecord> record, Caller caller) {
    return Offer.of(form, path, input, context(caller, record), lookups(caller, Steps.UNTIMED, ""));
  }

  /** Adds a record; the attempt is told what became of it. */
  public Answer<StoredRecord> add(
      String form, Input input, Caller caller, SubmissionInfo sent, AttemptRecorder attempt) {
    return inRounds(
        form,
        0,
        caller,
        attempt,
        published -> {
          Context context = context(caller, Optional.empty());
          return Submission.send(
              published.form(),
              input,
              context,
              lookups(caller, attempt.steps(), sent.page()),
              keeping(
                  published.form(),
                  context,
                  sent,
                  attempt,
                  (values, keys, info) -> store.recordWriter().add(published, values, keys, info)),
              attempt.steps());
        });
  }

  /** Keeps values in the store. */
  private interface Keeping {
    RecordSink.Outcome<StoredRecord> keep(Values values, List<UniqueKey> keys, SubmissionInfo info);
  }

  /** Seals secrets, and has the attempt and the deliveries kept with the record. */
  private RecordSink<StoredRecord> keeping(
      Form form, Context context, SubmissionInfo sent, AttemptRecorder attempt, Keeping keep) {
    return (values, keys) -> {
      Values sealed = secrets.sealed(form.fields(), values);
      attempt.keeping(values);
      var caused =
          caused(form, DeliveryRule.Change.of(context.mode()), sealed, context, attempt.id());
      return keep.keep(sealed, keys, sent.logged(attempt::kept).causing(caused));
    };
  }

  /**
   * What outlets are told of a change: by the form as it is, whoever sends.
   *
   * @param seen the form as the sender has it
   */
  private Caused caused(
      Form seen, DeliveryRule.Change change, Values values, Context context, String attempt) {
    if (seen.deliveries().isEmpty() && seen.confirmation().isEmpty()) {
      return Caused.NOTHING;
    }
    Form whole =
        store.forms().find(seen.name()).orElseThrow(StoreException.FormChanged::new).form();
    return deliveries.of(
        whole.in(seen.language()), change, values, context, lookups(Caller.Known.SERVICE), attempt);
  }

  /**
   * Edits a record that is at the given version.
   *
   * @param change what is sent, given the record as it is
   * @throws StoreException.Outdated if it is not, by the time it would be kept
   */
  public Answer<StoredRecord> edit(
      String form,
      String id,
      long version,
      UnaryOperator<Input> change,
      Caller caller,
      SubmissionInfo sent,
      AttemptRecorder attempt) {
    return inRounds(
        form,
        version,
        caller,
        attempt,
        published -> {
          StoredRecord before = record(published.form(), id);
          Context context = context(caller, Optional.of(before));
          return Submission.send(
              published.form(),
              change.apply(input(Raw.withRows(before.values()))),
              context,
              lookups(caller, attempt.steps(), sent.page()),
              keeping(
                  published.form(),
                  context,
                  sent,
                  attempt,
                  (values, keys, info) ->
                      store.recordWriter().edit(published, id, version, values, keys, info)),
              attempt.steps());
        });
  }

  /**
   * Removes a record that is at the given version.
   *
   * @param restorable true if it can be put back for a while; else it is gone for good
   * @throws StoreException.Outdated if it is not
   * @throws StoreException.StillReferred with those records that refer to it and that the caller
   *     may see
   */
  public void remove(
      Form form, StoredRecord record, long version, boolean restorable, Caller caller) {
    try {
      var caused =
          caused(
              form,
              DeliveryRule.Change.REMOVE,
              record.values(),
              context(caller, Optional.of(record)),
              "");
      Optional<String> by =
          restorable && canPutBack ? Optional.of(caller.name()) : Optional.empty();
      store.recordWriter().remove(form, record.id(), version, by, caused);
    } catch (StoreException.StillReferred e) {
      throw new StoreException.StillReferred(
          e.referrers().stream().filter(it -> maySee(it, caller)).toList());
    }
    changes.tell(new Change(form.name(), record.id(), 0, record.owner()));
  }

  /**
   * Puts back a record that was removed; outlets and watchers are told that it was added.
   *
   * @throws StoreException.CannotPutBack if something is in the way
   */
  public StoredRecord putBack(PublishedForm published, RemovedRecords.Removed removed) {
    Form form = published.form();
    Context context = displays.context(Caller.current());
    Values values = values(form, removed, Caller.current());
    var caused = caused(form, DeliveryRule.Change.ADD, values, context, "");
    StoredRecord record = store.records().removed().putBack(published, removed.id(), caused);
    changes.tell(new Change(form.name(), record.id(), record.version(), record.owner()));
    return record;
  }

  /** The values of a removed record, to be shown. */
  public Values values(Form form, RemovedRecords.Removed removed, Caller caller) {
    Context context = displays.context(caller);
    return forPage(form, input(removed.last().values()), context, caller).values();
  }

  private boolean maySee(StoreException.Referrer referrer, Caller caller) {
    Form form = form(referrer.form(), caller).form();
    boolean isKnown =
        form.fields()
            .find(List.of(referrer.field().split("\\.")))
            .filter(it -> !it.isHidden())
            .isPresent();
    return isKnown
        && Authorization.maySeeSome(caller, form)
        && store
            .records()
            .find(form, referrer.id())
            .filter(it -> Authorization.may(caller, form, Access::see, it))
            .isPresent();
  }

  /** Picks records by a condition, as far as the caller may know what it asks about. */
  public Selection selection(Form form, Expression condition, Caller caller) {
    return new Selection(
        form, condition, context(caller, Optional.empty()), lookups(caller, Steps.UNTIMED, ""));
  }

  /** A record as if it had been sent as it is. */
  public static Input input(Raw.Members values) {
    return new Input(values.members(), Input.Encoding.JSON);
  }

  /** An edit that changed nothing leaves the record at the version it was, and is no change. */
  private Answer<StoredRecord> inRounds(
      String name,
      long version,
      Caller caller,
      AttemptRecorder attempt,
      Function<PublishedForm, Answer<StoredRecord>> round) {
    for (int i = 1; ; i++) {
      try {
        Answer<StoredRecord> answer = attempt.answered(round.apply(form(name, caller)));
        if (answer instanceof Answer.Accepted<StoredRecord>(StoredRecord record)
            && record.version() != version
            && !form(name, caller).form().isKeepingNone()) {
          changes.tell(new Change(name, record.id(), record.version(), record.owner()));
        }
        return answer;
      } catch (StoreException.FormChanged e) {
        if (i == MAX_ROUNDS) {
          throw e;
        }
      }
    }
  }
}
