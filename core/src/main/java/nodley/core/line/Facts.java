package nodley.core.line;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.value.Value;

/** The port through which the core asks what only a store knows. */
public interface Facts {

  /** Nobody to ask: every question stays unasked. */
  Facts NONE =
      new Facts() {
        @Override
        public Optional<Set<String>> taken(
            Form form, Map<String, Value> values, Optional<String> except) {
          return Optional.empty();
        }

        @Override
        public Optional<Optional<Display.Found>> record(String form, String id) {
          return Optional.empty();
        }
      };

  /**
   * Which of these unique fields have a value that another record keeps; one question for all.
   *
   * @param values by dotted path of the field, none of them blank
   * @param except the record that is edited, whose own values are not taken
   * @return the paths of the taken fields; empty if the question cannot be asked now
   */
  Optional<Set<String>> taken(Form form, Map<String, Value> values, Optional<String> except);

  /**
   * A record of another form, if it is there and the caller may see it; empty on the outside if it
   * cannot be asked now.
   */
  Optional<Optional<Display.Found>> record(String form, String id);
}
