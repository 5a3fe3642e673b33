/**
 * Authorisation: each mapping declares with {@link nodley.service.access.Needs} what its caller
 * must be allowed to do, and {@link nodley.service.access.AccessCheck} checks it before the mapping
 * is called. Controllers only leave out of their answers what a caller may not read.
 */
package nodley.service.access;
