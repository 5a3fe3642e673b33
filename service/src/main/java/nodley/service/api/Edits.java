package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Optional;
import java.util.function.UnaryOperator;
import nodley.core.form.Access;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Values;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.draft.CallerDrafts;
import nodley.service.http.IfMatch;
import nodley.service.http.RecordReply;
import nodley.service.http.Repeatable;
import nodley.service.problem.Problem;
import nodley.service.submission.Conflict;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.record.SubmissionInfo;
import nodley.store.record.Version;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;

/**
 * Edits a record that its sender knows at some version: shared by the addresses that do so. Where
 * somebody else has saved meanwhile, what only one of both changed is merged, and the rest is a
 * conflict, 412. Thread-safe.
 */
@Component
class Edits {

  private final Store store;
  private final Submissions submissions;
  private final Repeatable repeatable;

  private final CallerDrafts drafts;

  Edits(Store store, Submissions submissions, Repeatable repeatable, CallerDrafts drafts) {
    this.drafts = drafts;
    this.store = store;
    this.submissions = submissions;
    this.repeatable = repeatable;
  }

  /**
   * Answers an edit.
   *
   * @param body what came, for a key must not stand for another
   * @param change what is sent, given the record as it is
   */
  ResponseEntity<byte[]> answer(
      Form form,
      String id,
      HttpServletRequest request,
      byte[] body,
      UnaryOperator<Input> change,
      AttemptRecorder attempt) {
    return repeatable.answer(
        request,
        body,
        form,
        Mode.EDIT,
        finished(request, form),
        attempt,
        sent -> edited(form, id, request, change, sent, attempt));
  }

  /** The draft that a submission finishes; empty if there is none. */
  String finished(HttpServletRequest request, Form form) {
    return drafts.finished(request, form);
  }

  private StoredRecord edited(
      Form form,
      String id,
      HttpServletRequest request,
      UnaryOperator<Input> change,
      SubmissionInfo sent,
      AttemptRecorder attempt) {
    Caller caller = Caller.current();
    StoredRecord before = submissions.record(form, id);
    long version = IfMatch.version(request, before.version());
    if (version != before.version()) {
      throw outdated(form, before, version, change, caller);
    }
    try {
      return RecordReply.accepted(
          form,
          Optional.of(before),
          caller,
          submissions.edit(form.name(), id, version, change, caller, sent, attempt));
    } catch (StoreException.Outdated e) {
      throw outdated(form, e.current(), version, change, caller);
    }
  }

  /** Lists what differs, field by field, so that the caller can choose. */
  Problem outdated(
      Form form, StoredRecord theirs, long known, UnaryOperator<Input> change, Caller caller) {
    Problem problem =
        Problem.of(
                412,
                "outdated",
                "Somebody changed the record since",
                "The record is at version "
                    + theirs.version()
                    + " by now. Look at what differs,"
                    + " then send again with If-Match: "
                    + RecordReply.tag(theirs)
                    + ".")
            .header("ETag", RecordReply.tag(theirs))
            .with("version", theirs.version());
    if (!Authorization.may(caller, form, Access::see, theirs)) {
      return problem;
    }
    Optional<Raw.Members> base =
        store.records().version(form, theirs.id(), known).map(Version::values);
    // A part is meant for what its sender knew: that, with the part in it, is theirs to compare.
    Input yours = change.apply(Submissions.input(base.orElse(Raw.of(theirs.values()))));
    Values judged =
        submissions
            .check(
                form,
                yours,
                submissions.context(caller, Optional.of(theirs)),
                caller,
                Optional.empty())
            .values();
    return problem.with(
        "fields",
        Conflict.between(form, base, theirs.values(), judged).stream()
            .map(Conflict::toJson)
            .toList());
  }
}
