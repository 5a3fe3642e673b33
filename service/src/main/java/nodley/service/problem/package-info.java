/** Problems (RFC 9457): types, conversion of exceptions, output. */
package nodley.service.problem;
