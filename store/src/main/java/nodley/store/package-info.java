/**
 * The store: SQLite through plain JDBC. Each form is a table with real columns and real unique
 * indexes. One thread writes and commits what waits together; reads go on beside it. {@link
 * nodley.store.Store} is the entry point.
 */
package nodley.store;
