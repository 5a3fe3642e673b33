package nodley.service.page;

import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.FormatStyle;
import java.time.format.TextStyle;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Function;
import nodley.core.form.Form;
import nodley.core.submission.Sentences;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;
import nodley.service.draft.CallerDrafts;
import nodley.store.draft.Draft;

/**
 * The drafts of a page, prepared for its template. Immutable; for one page.
 *
 * @param id of the draft that the page shows; empty if it shows none
 * @param version of it; 0 if it shows none
 * @param others links to other drafts of the same
 * @param dropped values of which the form has no field any more
 */
record DraftView(String id, long version, List<Other> others, List<Dropped> dropped) {

  private static final int DAYS_OF_A_WEEK = 7;
  private static final int MOST_OTHERS = 5;

  /** So many code points of a record's name tell one draft from another. */
  private static final int MOST_OF_NAME = 60;

  /** A draft that can be gone on with. */
  record Other(String address, String words) {}

  /** A value that is shown once more. */
  record Dropped(String name, String value) {}

  /**
   * The drafts of a page.
   *
   * @param address where the page is, and a question mark or an ampersand behind
   * @param now what days are counted from
   * @param called what a draft calls its record, as far as it is filled in
   */
  static DraftView of(
      Form form, Progress progress, String address, Instant now, Function<Draft, String> called) {
    return new DraftView(
        progress.draft().map(Draft::id).orElse(""),
        progress.draft().map(Draft::version).orElse(0L),
        progress.draft().isPresent()
            ? List.of()
            : progress.others().stream()
                .limit(MOST_OTHERS)
                .map(it -> new Other(address + "draft=" + it.id(), words(form, it, now, called)))
                .toList(),
        progress.draft().stream()
            .flatMap(it -> CallerDrafts.leftOver(form, it).entrySet().stream())
            .map(it -> new Dropped(Wellformed.of(it.getKey()), it.getValue().shown()))
            .toList());
  }

  boolean hasOthers() {
    return !others.isEmpty();
  }

  boolean hasDropped() {
    return !dropped.isEmpty();
  }

  /** Of two drafts of the same minute nobody could tell which is which by the time alone. */
  static String words(Form form, Draft draft, Instant now, Function<Draft, String> called) {
    String words =
        Sentences.of(form)
            .word(
                "page.draft.go-on",
                Map.of("day", new Value.Text(day(form, draft.updatedAt(), now))));
    String name = called.apply(draft);
    return name.codePoints().anyMatch(Character::isLetterOrDigit)
        ? words + ": " + shortened(name)
        : words;
  }

  /** Nobody has judged a draft: its values may be of any length. */
  private static String shortened(String name) {
    return name.codePointCount(0, name.length()) <= MOST_OF_NAME
        ? name
        : name.substring(0, name.offsetByCodePoints(0, MOST_OF_NAME)) + "…";
  }

  private static ZonedDateTime local(Form form, Instant at) {
    return at.atZone(form.zone().orElse(ZoneId.systemDefault()));
  }

  /** A moment of this week by the name of its day, an earlier one by its date. */
  private static String day(Form form, Instant at, Instant now) {
    ZonedDateTime then = local(form, at);
    Locale language = form.language();
    long days = ChronoUnit.DAYS.between(then.toLocalDate(), local(form, now).toLocalDate());
    String day =
        days < DAYS_OF_A_WEEK
            ? then.getDayOfWeek().getDisplayName(TextStyle.FULL, language)
            : DateTimeFormatter.ofLocalizedDate(FormatStyle.LONG).withLocale(language).format(then);
    return day + ", " + time(form, at);
  }

  /** The time of day, as the language writes it. */
  static String time(Form form, Instant at) {
    return DateTimeFormatter.ofPattern("HH:mm").format(local(form, at));
  }
}
