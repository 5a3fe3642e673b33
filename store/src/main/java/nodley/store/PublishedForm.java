package nodley.store;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import nodley.core.file.Format;
import nodley.core.file.Surroundings;
import nodley.core.form.Form;

/**
 * The current text of a form, and what it means now.
 *
 * @param revision counts up from 1 with each publish that changes the text
 * @param edition a number that no other meaning of any form has: the next one of the store is taken
 *     with each revision, and with a change of a list or part that the form uses
 * @param languages the form in each language that it or Nodley has texts in
 * @param uses what the text refers to outside itself: where that changes, it is read anew
 */
public record PublishedForm(
    Form form,
    int revision,
    int edition,
    String text,
    Format format,
    List<Form> languages,
    Set<Surroundings.Use> uses) {

  public PublishedForm {
    languages = List.copyOf(languages);
    uses = Set.copyOf(uses);
  }

  /** The same with another number. */
  PublishedForm withEdition(int other) {
    return new PublishedForm(form, revision, other, text, format, languages, uses);
  }

  /** True if a form is this one, in whatever language. */
  boolean isOf(Form other) {
    if (form == other) {
      return true;
    }
    for (Form language : languages) {
      if (language == other) {
        return true;
      }
    }
    return false;
  }

  public String name() {
    return form.name();
  }

  /**
   * The form as somebody reads it: by "lookup" of RFC 4647, section 3.4, in which {@code de-AT} is
   * content with {@code de}.
   *
   * @param wanted languages, the best one first; where none is there, the form file's own
   */
  public PublishedForm in(List<Locale> wanted) {
    for (Locale language : wanted) {
      for (String tag = language.toLanguageTag(); !tag.isEmpty(); tag = shorter(tag)) {
        Optional<Form> found = find(tag);
        if (found.isPresent()) {
          return new PublishedForm(found.get(), revision, edition, text, format, languages, uses);
        }
      }
    }
    return this;
  }

  private Optional<Form> find(String tag) {
    return languages.stream()
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
