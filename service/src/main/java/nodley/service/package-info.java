/**
 * The service: HTTP in front of core and store. {@link nodley.service.Nodley} starts it; {@code
 * api} speaks JSON, {@code page} speaks HTML, {@code access} decides who may call what.
 * ARCHITECTURE.md walks through a call.
 */
package nodley.service;
