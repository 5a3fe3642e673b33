package nodley.core.form;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * Says which changes of a form's records are told to one outlet, and what of each.
 *
 * @param to the name of the outlet; where it is stands in the service's settings
 * @param on the changes that are told
 * @param when holds for the values of those records that are told
 * @param values the paths of the fields that are told; empty for all that are no secrets
 */
public record DeliveryRule(
    String to, Set<Change> on, Condition when, Optional<List<List<String>>> values) {

  /** What happens to a record. */
  public enum Change {
    ADD("added"),
    EDIT("edited"),
    REMOVE("removed"),
    /** Whoever reads the mail of an address that it has has confirmed it. */
    CONFIRM("confirmed");

    private final String past;

    Change(String past) {
      this.past = past;
    }

    /** Returns the word for it in form files. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Returns the word for it once it has happened, as in {@code nodley.record.added}. */
    public String past() {
      return past;
    }

    /** Returns the change that a submission makes. */
    public static Change of(Mode mode) {
      return mode == Mode.ADD ? ADD : EDIT;
    }
  }

  /** The changes that are told where a form file names none. */
  public static final Set<Change> USUAL = Set.of(Change.ADD, Change.EDIT);

  public DeliveryRule {
    on = Set.copyOf(on);
    values = values.map(List::copyOf);
  }
}
