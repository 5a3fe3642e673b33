package nodley.core.submission;

/** What a submission is told in the end. */
public sealed interface Answer<R> {

  record Accepted<R>(R record) implements Answer<R> {}

  record Refused<R>(Verdict verdict) implements Answer<R> {}
}
