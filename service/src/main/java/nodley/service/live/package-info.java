/** Events that are broadcast to subscribers. */
package nodley.service.live;
