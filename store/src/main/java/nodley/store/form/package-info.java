/** The published forms as they are now: their text and what it means. Reads only. */
package nodley.store.form;
