package nodley.store.publish;

import java.util.Locale;

/**
 * One change of a form's tables by a publish, as preview and publish tell it to the developer.
 * Immutable.
 *
 * @param field the dotted path of the field, as the form has it from then on
 * @param detail a sentence for the developer
 */
public record TableChange(String form, String field, Kind kind, String detail) {

  /** What is done. */
  public enum Kind {
    /** A field that was not there before. */
    ADDED,
    /** A field that had been dropped; its kept values are there again. */
    BACK,
    /** A field that the form has no longer; its column and values stay until it is forgotten. */
    RETIRED,
    /** A field under another name; its values go with it. */
    RENAMED,
    /** Another type; every kept value has become one of it. */
    CONVERTED,
    /** What was not unique before is so now, and has an index. */
    UNIQUE,
    /** What was unique need not be so any more. */
    NOT_UNIQUE,
    /** Records are removed some time after they were added, from now on. */
    REMOVED_BY_AGE,
    /** An option that kept records have is offered no longer; they keep it. */
    OPTION_DROPPED;

    /** True if a text that was there is there no longer, or the other way round. */
    boolean changesTexts() {
      return this == BACK || this == RETIRED || this == CONVERTED;
    }

    /** Returns the word for it in replies. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  /** The same with another sentence. */
  TableChange saying(String other) {
    return new TableChange(form, field, kind, other);
  }
}
