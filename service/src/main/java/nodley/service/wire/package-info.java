/** The wire: JSON over HTTP, errors as RFC 9457 problems. */
package nodley.service.wire;
