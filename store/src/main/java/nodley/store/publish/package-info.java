/**
 * Publishing: reads a new revision against all others, compares it with stored records, and
 * migrates its tables.
 */
package nodley.store.publish;
