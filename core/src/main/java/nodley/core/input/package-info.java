/**
 * Parsing of submissions: JSON (RFC 8259) and form encoding (WHATWG URL, section 5), strictly and
 * within limits, into {@link nodley.core.input.Input}.
 */
package nodley.core.input;
