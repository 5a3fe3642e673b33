package nodley.core.submission;

import nodley.core.value.Raw;

/**
 * A field whose values differ between two versions of a record.
 *
 * @param pointer of the field in either version
 * @param before what the first has; null in the sense of JSON where it has nothing
 * @param after what the second has
 */
public record Difference(String pointer, Raw before, Raw after) {}
