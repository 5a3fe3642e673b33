/** The form: what a developer declares. Immutable, and right by construction of the form file. */
package nodley.core.form;
