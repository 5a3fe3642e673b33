package nodley.core.submission;

/** The answer to a submission that was to be saved: the saved record, or why it was refused. */
public sealed interface Answer<R> {

  record Accepted<R>(R record) implements Answer<R> {}

  record Refused<R>(Verdict verdict) implements Answer<R> {}
}
