/** Records: adding, editing, removing, reading, listing and searching them, and their versions. */
package nodley.store.record;
