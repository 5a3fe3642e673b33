package nodley.core.submission;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Display;
import nodley.core.form.Form;

/** The port through which the core asks what only a store knows. */
public interface Lookups {

  /** Nobody to ask: every question stays unasked. */
  Lookups NONE =
      new Lookups() {
        @Override
        public Optional<Set<Integer>> taken(
            Form form, List<UniqueKey> claims, Optional<String> except) {
          return Optional.empty();
        }

        @Override
        public Optional<Optional<Display.Found>> record(String form, String id) {
          return Optional.empty();
        }
      };

  /**
   * Which of these claims another record has; one question for all.
   *
   * @param except the record that is edited, whose own values are not taken
   * @return the places of the taken ones in the list, counted from 0; empty if the question cannot
   *     be asked now
   */
  Optional<Set<Integer>> taken(Form form, List<UniqueKey> claims, Optional<String> except);

  /** Which of these claims are set aside for somebody else's open page, by their places. */
  default Set<Integer> held(Form form, List<UniqueKey> claims) {
    return Set.of();
  }

  /**
   * A record of another form, if it is there and the caller may see it; empty on the outside if it
   * cannot be asked now.
   */
  Optional<Optional<Display.Found>> record(String form, String id);
}
