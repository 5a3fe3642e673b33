package nodley.core.form;

import java.util.List;
import java.util.Optional;

/**
 * A question to a service outside: about the value of one field, or about a submission as a whole.
 * Where that service is stands in the settings.
 *
 * @param of the name under which the settings have the service that is asked
 * @param at the path of the field that it is about, behind those of the groups around it; empty if
 *     it is about the submission as a whole
 * @param sends the paths of the fields that are sent along, from the form; empty for all that are
 *     no secrets
 * @param early true if it is asked while the form is filled in, too
 */
public record Ask(
    String of, Optional<List<String>> at, Optional<List<List<String>>> sends, boolean early) {

  public Ask {
    at = at.map(List::copyOf);
    sends = sends.map(List::copyOf);
  }

  /** True if it is about a submission as a whole, and decides last. */
  public boolean isOfForm() {
    return at.isEmpty();
  }
}
