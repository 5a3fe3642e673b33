/**
 * Deliveries: what outlets are to be told of accepted submissions. Each is written in the
 * transaction of its record, waits until its outlet has taken it, and is kept for a while after.
 */
package nodley.store.delivery;
