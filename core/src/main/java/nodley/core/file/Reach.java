package nodley.core.file;

/** What every reader of a form file has at hand. */
record Reach(String form, Errors errors, Surroundings surroundings, Skeleton root) {}
