package nodley.core.submission;

/**
 * The values as they were sent, each as a value of its field's type: text is as it was typed. Made
 * by {@link Binder}; spent once it is passed on, for the stages change one and the same field
 * states.
 */
record Bound(Request request, FieldStates root, Problems problems) {}
