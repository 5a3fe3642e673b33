/** The description of a form: all that a page needs to show it and to run its rules. */
package nodley.core.describe;
