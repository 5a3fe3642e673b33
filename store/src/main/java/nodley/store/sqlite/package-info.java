/**
 * All that only SQLite has: connections, the writer and its batches, full-text search, error codes.
 * Another engine would stand beside it.
 */
package nodley.store.sqlite;
