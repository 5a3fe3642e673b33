package nodley.core.submission;

import java.util.List;

/**
 * The values, with what services outside have against them: they can be saved if there is no error.
 * Made by {@link AskStage}; spent once it is passed on, for the stages change one and the same
 * field states.
 *
 * @param proposals values that those services propose
 */
record Asked(Request request, FieldStates root, Problems problems, List<Proposal> proposals) {}
