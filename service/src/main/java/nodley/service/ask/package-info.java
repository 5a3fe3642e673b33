/**
 * Asks services outside what only they know of a submission: how a question is sent, what an answer
 * means, and when a service that does not answer is left alone for a while.
 */
package nodley.service.ask;
