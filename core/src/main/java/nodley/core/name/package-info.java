/** Identifiers: validation, readable labels, suggestions for misspelt ones, JSON Pointers. */
package nodley.core.name;
