package nodley.core.submission;

/**
 * The values with surrounding white space and the like removed: fields that depend on others are as
 * they were sent. Made by {@link Tidier}; spent once it is passed on, for the stages change one and
 * the same field states.
 */
record Tidied(Request request, FieldStates root, Problems problems) {}
