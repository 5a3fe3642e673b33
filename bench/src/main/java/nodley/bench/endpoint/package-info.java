/**
 * The endpoint that an engineer writes by hand for one form: what {@code bench/wire} sets Nodley
 * beside. It is written to be fast and plain, not to lose.
 */
package nodley.bench.endpoint;
