/** Runs cases: submissions to a form with the outcome that a case file expects of each. */
package nodley.core.cases;
