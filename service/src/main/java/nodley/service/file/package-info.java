/** Files as they are given out. */
package nodley.service.file;
