/** Unique values: which are taken by stored records, and which are held for open pages. */
package nodley.store.unique;
