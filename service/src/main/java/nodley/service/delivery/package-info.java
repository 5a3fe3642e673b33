/**
 * Tells outlets of accepted submissions: which deliveries a submission causes, when each is sent,
 * how it is signed, and what its answer means. What waits is in the store; here is no state that a
 * restart would lose.
 */
package nodley.service.delivery;
