package nodley.store.form;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.form.Access;
import nodley.core.form.Form;
import nodley.store.common.Lazy;
import nodley.store.common.StoreException;

/**
 * The current revision of a form: its text, and the {@link nodley.core.form.Form} that is parsed
 * from it when it is first needed. Immutable for callers; thread-safe.
 */
public final class PublishedForm {

  private final Source source;
  private final Lazy<Reading> reading;
  private final Optional<Form> variant;
  private final FormVariants variants;

  /**
   * A form's text before it is read.
   *
   * @param revision counts up from 1 with each publish that changes the text
   * @param edition a number that no other meaning of any form has: the next one of the store is
   *     taken with each revision, and with a change of a list or part that the form uses
   */
  public record Source(String name, int revision, int edition, Format format, String text) {

    /** Returns the same with another edition. */
    public Source withEdition(int other) {
      return new Source(name, revision, other, format, text);
    }
  }

  /**
   * What a text means.
   *
   * @param languages the form in each language that it or Nodley has texts in
   * @param uses what the text refers to outside itself: where that changes, it is read anew
   */
  record Reading(Form form, List<Form> languages, Set<FormRegistry.Use> uses) {
    Reading {
      languages = List.copyOf(languages);
      uses = Set.copyOf(uses);
    }
  }

  PublishedForm(Source source, Lazy<Reading> reading) {
    this(source, reading, Optional.empty(), new FormVariants());
  }

  private PublishedForm(
      Source source, Lazy<Reading> reading, Optional<Form> variant, FormVariants variants) {
    this.source = source;
    this.reading = reading;
    this.variant = variant;
    this.variants = variants;
  }

  /** The same with another number. */
  public PublishedForm withEdition(int edition) {
    return new PublishedForm(source.withEdition(edition), reading, variant, variants);
  }

  /** Returns the name of the form. */
  public String name() {
    return source.name();
  }

  /** Counts up from 1 with each publish that changes the text. */
  public int revision() {
    return source.revision();
  }

  /** A number that no other meaning of any form has. */
  public int edition() {
    return source.edition();
  }

  /** Returns the form file as it was published. */
  public String text() {
    return source.text();
  }

  /** Returns the notation of the form file. */
  public Format format() {
    return source.format();
  }

  /** Returns what is stored of the form: its text, revision and time. */
  Source source() {
    return source;
  }

  /**
   * What the text means, in the language that was asked for, for the caller that was.
   *
   * @throws StoreException.Unavailable if an earlier Nodley published it, and this one cannot read
   *     it
   */
  public Form form() {
    return variant.orElseGet(() -> reading.get().form());
  }

  /** What the text refers to outside itself. */
  Set<FormRegistry.Use> uses() {
    return reading.get().uses();
  }

  /** True if the text has been read already. */
  boolean isRead() {
    return reading.isDone();
  }

  /** True if a form is this one, in whatever language and for whatever caller. */
  public boolean isOf(Form other) {
    Reading read = reading.get();
    if (read.form() == other) {
      return true;
    }
    for (Form each : read.languages()) {
      if (each == other) {
        return true;
      }
    }
    return variants.has(other);
  }

  /**
   * The form as a caller has it, in the language that it has now: fields that they may not see are
   * hidden.
   *
   * @param given whether something is given to the caller
   */
  public PublishedForm seenBy(Predicate<Access.Who> given) {
    Form whole = form();
    return whole.fields().areForAll()
        ? this
        : new PublishedForm(source, reading, Optional.of(variants.of(whole, given)), variants);
  }

  /**
   * The form as somebody reads it: by "lookup" of RFC 4647, section 3.4, in which {@code de-AT} is
   * content with {@code de}.
   *
   * @param wanted languages, the best one first; where none is there, the form file's own
   */
  public PublishedForm in(List<Locale> wanted) {
    for (Locale each : wanted) {
      for (String tag = each.toLanguageTag(); !tag.isEmpty(); tag = shorter(tag)) {
        Optional<Form> found = find(tag);
        if (found.isPresent()) {
          return new PublishedForm(source, reading, found, variants);
        }
      }
    }
    return this;
  }

  private Optional<Form> find(String tag) {
    return reading.get().languages().stream()
        .filter(it -> it.language().toLanguageTag().equalsIgnoreCase(tag))
        .findFirst();
  }

  /** The tag without its last part, and without a single letter that would then be the last. */
  private static String shorter(String tag) {
    int end = tag.lastIndexOf('-');
    if (end >= 2 && tag.charAt(end - 2) == '-') {
      end -= 2;
    }
    return end < 0 ? "" : tag.substring(0, end);
  }
}
