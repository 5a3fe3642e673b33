package nodley.core.submission;

/**
 * The values, with errors that only a store can tell. Made by {@link LookupStage}; spent once it is
 * passed on, for the stages change one and the same field states.
 */
record LookedUp(Request request, FieldStates root, Problems problems) {}
