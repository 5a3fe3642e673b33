/** Limits of requests, connections and clients, and their configuration. */
package nodley.service.limits;
