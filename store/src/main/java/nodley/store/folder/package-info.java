/** The files of a data folder: its lock, permissions, free space. Knows no tables. */
package nodley.store.folder;
