/**
 * The form file: YAML 1.2 or JSON, read strictly into a {@link nodley.core.form.Form}, with all its
 * errors at once, each with its place.
 */
package nodley.core.file;
