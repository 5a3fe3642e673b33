/** What an operator does with a data folder that no service has open: restore and check it. */
package nodley.store.care;
