/**
 * Files of records: uploads that are not part of a record yet, their content on disk, named by its
 * digest, and which records need it.
 */
package nodley.store.upload;
