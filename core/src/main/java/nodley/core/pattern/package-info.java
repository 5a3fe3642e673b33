/** Patterns: I-Regexp (RFC 9485), parsed once and written for RE2/J and for the browser. */
package nodley.core.pattern;
