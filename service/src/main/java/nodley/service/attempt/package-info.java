/** The log of attempts: what becomes of each submission, and those who watch it. */
package nodley.service.attempt;
