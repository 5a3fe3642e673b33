/** The log of attempts: what was submitted, and what became of it. */
package nodley.store.attempt;
