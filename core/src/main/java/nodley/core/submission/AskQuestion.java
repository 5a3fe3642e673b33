package nodley.core.submission;

import java.util.Map;
import java.util.Optional;
import nodley.core.form.Ask;
import nodley.core.form.Mode;

/**
 * What one submission asks a service outside.
 *
 * @param record id of the record that is edited
 * @param values the values that are sent, as a JSON writer takes them; no secrets
 */
public record AskQuestion(
    Ask ask, Mode mode, Optional<String> record, Map<String, Object> values) {}
