/**
 * The tables, columns and unique indexes of a form, and the numbered migrations of the store's own
 * tables.
 */
package nodley.store.schema;
