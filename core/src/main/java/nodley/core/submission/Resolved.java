package nodley.core.submission;

/**
 * The values with those that depend on others: hidden fields are blank. Made by {@link
 * DependentFields}; spent once it is passed on, for the stages change one and the same field
 * states.
 */
record Resolved(Request request, FieldStates root, Problems problems) {}
