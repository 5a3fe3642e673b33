/** The HTTP interface for programs: JSON, with errors as problems (RFC 9457). */
package nodley.service.api;
