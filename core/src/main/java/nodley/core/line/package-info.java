/**
 * The way of a submission, one straight line: read → tidy → judge → ask → keep → answer. {@link
 * nodley.core.line.Submission} is the line; the other types are its stations, and the ports through
 * which it reaches what only a store knows.
 */
package nodley.core.line;
