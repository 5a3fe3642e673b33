/**
 * The submission pipeline. {@link nodley.core.submission.Submission} runs its stages in order, each
 * a function from one record to the next: {@link nodley.core.submission.Binder}, {@link
 * nodley.core.submission.Tidier}, {@link nodley.core.submission.DependentFields}, {@link
 * nodley.core.submission.Validator}, {@link nodley.core.submission.LookupStage}, {@link
 * nodley.core.submission.SaveStage}. {@link nodley.core.submission.Lookups} and {@link
 * nodley.core.submission.RecordSink} are ports: a store implements them.
 */
package nodley.core.submission;
