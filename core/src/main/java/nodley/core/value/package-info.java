/** Values: as they were sent ({@link nodley.core.value.Raw}), and as values of a type. */
package nodley.core.value;
