/** How fast things are; what is compared, and must not differ, is among the tests. */
package nodley.bench;
