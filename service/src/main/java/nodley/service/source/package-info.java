/**
 * Databases that are there already, in which forms look things up: which there are, and what a
 * submission, a page and a publisher ask of them. How each is asked is in the store.
 */
package nodley.service.source;
