/** The form model: what a form file declares. Immutable, and valid by construction. */
package nodley.core.form;
