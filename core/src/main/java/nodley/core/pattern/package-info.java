/** Patterns: I-Regexp (RFC 9485), parsed once, written for RE2/J and for browsers. */
package nodley.core.pattern;
