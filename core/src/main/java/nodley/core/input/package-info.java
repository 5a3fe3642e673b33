/**
 * What arrives: a submission as JSON (RFC 8259) or as form encoding (WHATWG URL, section 5), read
 * strictly and with limits into one and the same {@link nodley.core.input.Input}.
 */
package nodley.core.input;
