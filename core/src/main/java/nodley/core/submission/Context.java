package nodley.core.submission;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.value.Offsets;
import nodley.core.value.Values;

/**
 * What a submission is validated against besides its form: the record that is edited, the moment,
 * the time zone, and who sends it. Immutable. The moment is taken once, so that {@code today} and
 * {@code now} are the same in all rules of a submission.
 *
 * @param edited the record that is edited; empty when one is added
 * @param now when it is validated, to the millisecond; the same throughout a submission
 * @param zone time zone of {@code today}, unless the form has its own
 */
public record Context(Optional<Edited> edited, Instant now, ZoneId zone, Sender sender) {

  /** The edited record and its stored values. */
  public record Edited(String id, Values values) {}

  /** Who sends it, as expressions can read; texts may be empty. */
  public record Sender(String name, String email, List<String> roles) {
    public static final Sender NOBODY = new Sender("", "", List.of());
  }

  public Context {
    now = now.truncatedTo(ChronoUnit.MILLIS);
  }

  /**
   * The context of an add by a stranger.
   *
   * @param clock gives now and today
   */
  public static Context add(Clock clock) {
    return new Context(Optional.empty(), clock.instant(), clock.getZone(), Sender.NOBODY);
  }

  /** The same, as an edit of a record. */
  public Context editing(String id, Values kept) {
    return new Context(Optional.of(new Edited(id, kept)), now, zone, sender);
  }

  /** Returns the same for another sender. */
  public Context by(Sender sender) {
    return new Context(edited, now, zone, sender);
  }

  /** Returns whether a record is added or edited. */
  public Mode mode() {
    return edited.isPresent() ? Mode.EDIT : Mode.ADD;
  }

  Optional<String> record() {
    return edited.map(Edited::id);
  }

  ZoneId zone(Form form) {
    return form.zone().orElse(zone);
  }

  /** Returns the date in the form's time zone. */
  public LocalDate today(Form form) {
    return Offsets.day(now, zone(form));
  }
}
