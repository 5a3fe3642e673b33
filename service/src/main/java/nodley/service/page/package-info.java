/**
 * The pages: HTML rendered from a form, whole without script; with script the same HTML is bound.
 */
package nodley.service.page;
