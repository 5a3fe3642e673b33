/**
 * Databases of others, which forms look things up in: PostgreSQL, MariaDB, SQLite. They are read
 * and never written. Names are quoted and values bound; no SQL comes from a form file.
 */
package nodley.store.source;
