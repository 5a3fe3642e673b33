/**
 * Form files: YAML 1.2 or JSON, read strictly into a {@link nodley.core.form.Form}. All errors of a
 * file are reported, each with its line.
 */
package nodley.core.file;
