/**
 * SQLite through plain JDBC: each form a table with real columns and real unique indexes; one
 * writer that commits waiting work together, many readers. {@link nodley.store.Store} is the door.
 */
package nodley.store;
