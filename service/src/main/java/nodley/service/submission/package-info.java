/** Runs submissions through the pipeline with the store behind it; used by wire and pages. */
package nodley.service.submission;
