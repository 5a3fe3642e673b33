/**
 * Pages: HTML rendered from a form, complete without script; with script the page runtime is bound
 * to the same HTML.
 */
package nodley.service.page;
