package nodley.store;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.submission.Context;
import nodley.core.submission.RecordSink;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.core.value.Values;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import nodley.store.record.SubmissionInfo;

/** Adds and edits as the pipeline does: with the unique keys of the values. */
public final class TestSubmissions {

  private static final Context CONTEXT = Context.add(Clock.systemUTC());

  private TestSubmissions() {}

  /** Publishes a form file, read against what is published already. */
  public static FormPublisher.Published publish(
      Store store, String text, FormPublisher.Manner manner) {
    try {
      return store
          .publisher()
          .publish(
              FormFile.read(text, Format.YAML, store.forms().registry()),
              text,
              Format.YAML,
              manner);
    } catch (FormFileException e) {
      throw new AssertionError(e);
    }
  }

  public static RecordSink.Outcome<StoredRecord> add(
      Store store, PublishedForm form, Values values) {
    return store.recordWriter().add(form, values, uniqueKeys(form, values), SubmissionInfo.by(""));
  }

  public static RecordSink.Outcome<StoredRecord> edit(
      Store store, PublishedForm form, String id, long version, Values values, String by) {
    return store
        .recordWriter()
        .edit(form, id, version, values, uniqueKeys(form, values), SubmissionInfo.by(by));
  }

  /** The uniques of which another record has the values, by their names. */
  public static Set<String> taken(Store store, PublishedForm form, Values values) {
    List<UniqueKey> uniqueKeys = uniqueKeys(form, values);
    return store.records().taken(form.form(), uniqueKeys, Optional.empty()).stream()
        .map(i -> uniqueKeys.get(i).unique().name())
        .collect(Collectors.toSet());
  }

  private static List<UniqueKey> uniqueKeys(PublishedForm form, Values values) {
    return Submission.keys(form.form(), values, CONTEXT);
  }
}
