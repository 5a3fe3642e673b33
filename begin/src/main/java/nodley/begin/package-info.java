/**
 * Form files begun from what a developer already has: a table, a schema, data, a page. Each source
 * is read into a {@link nodley.begin.Sketch}, which is written as a form file that has no errors;
 * what was guessed is said in comments.
 */
package nodley.begin;
