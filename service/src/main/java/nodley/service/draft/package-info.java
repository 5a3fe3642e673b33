/** Drafts of callers: what may enter one, who may have it, and which one a submission finishes. */
package nodley.service.draft;
