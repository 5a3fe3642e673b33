/** What a value is: as it arrived ({@link nodley.core.value.Raw}) and once read as its type. */
package nodley.core.value;
