package nodley.core.submission;

/**
 * The values, each with the first error that the form's own rules find: nothing has been looked up.
 * Made by {@link Validator}; spent once it is passed on, for the stages change one and the same
 * field states.
 */
record Validated(Request request, FieldStates root, Problems problems) {}
