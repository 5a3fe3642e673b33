/** The log of attempts: each submission and its outcome, stored and streamed. */
package nodley.service.attempt;
