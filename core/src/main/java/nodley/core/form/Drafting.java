package nodley.core.form;

import java.time.Instant;
import java.time.Period;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;

/**
 * How unfinished submissions of a form are kept.
 *
 * @param keepFor since they were changed last
 * @param joint true if everybody may work on one who may add and has its address; else only whoever
 *     began it
 */
public record Drafting(Period keepFor, boolean joint) {

  /** What holds where a form file says no more than that there are drafts. */
  public static final Drafting USUAL = new Drafting(Period.ofDays(14), false);

  /** Returns until when a draft is kept that is changed now. */
  public Instant end(Instant now) {
    return now.atZone(ZoneOffset.UTC).plus(keepFor).toInstant().truncatedTo(ChronoUnit.MILLIS);
  }
}
