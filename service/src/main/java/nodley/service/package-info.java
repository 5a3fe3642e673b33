/**
 * The service: it carries, core decides, store keeps. {@link nodley.service.Nodley} starts it;
 * {@code wire} speaks JSON, {@code page} speaks HTML, {@code caller} knows who asks.
 */
package nodley.service;
