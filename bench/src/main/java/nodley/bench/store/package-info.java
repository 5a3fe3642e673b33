/** How the store does with many records beside few: it is filled, then asked over the wire. */
package nodley.bench.store;
