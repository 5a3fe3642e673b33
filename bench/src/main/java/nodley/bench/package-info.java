/** Compares the core and the page runtime on random forms and inputs. */
package nodley.bench;
