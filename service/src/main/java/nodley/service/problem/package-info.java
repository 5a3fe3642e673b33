/** Problems (RFC 9457): what they are, and how they reach a program or a person. */
package nodley.service.problem;
