/**
 * Takes submissions down the line, with the store behind it; the wire and the pages both come here.
 */
package nodley.service.submission;
