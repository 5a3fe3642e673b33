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
 * What a judgement takes into account besides the values.
 *
 * @param edited the record that is edited; empty when one is added
 * @param now the moment of judging, to the millisecond
 * @param zone where {@code today} is meant, unless the form says otherwise
 */
public record Context(Optional<Edited> edited, Instant now, ZoneId zone, Sender sender) {

  /** The record that is edited, and what it keeps. */
  public record Edited(String id, Values values) {}

  /** Who sends, as expressions may ask; texts may be empty. */
  public record Sender(String name, String email, List<String> roles) {
    public static final Sender NOBODY = new Sender("", "", List.of());
  }

  public Context {
    now = now.truncatedTo(ChronoUnit.MILLIS);
  }

  public static Context add(Clock clock) {
    return new Context(Optional.empty(), clock.instant(), clock.getZone(), Sender.NOBODY);
  }

  /** The same, as an edit of a record. */
  public Context editing(String id, Values kept) {
    return new Context(Optional.of(new Edited(id, kept)), now, zone, sender);
  }

  public Context by(Sender sender) {
    return new Context(edited, now, zone, sender);
  }

  public Mode mode() {
    return edited.isPresent() ? Mode.EDIT : Mode.ADD;
  }

  Optional<String> record() {
    return edited.map(Edited::id);
  }

  ZoneId zone(Form form) {
    return form.zone().orElse(zone);
  }

  /** Today, where the form's dates are meant. */
  public LocalDate today(Form form) {
    return Offsets.day(now, zone(form));
  }
}
