/**
 * Made-up values for a form, valid ones and invalid ones. Each is validated like a submission
 * before it is returned.
 */
package nodley.core.sample;
