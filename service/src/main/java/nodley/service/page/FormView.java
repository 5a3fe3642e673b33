package nodley.service.page;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import nodley.core.form.After;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.submission.Sentences;
import nodley.core.value.Value;

/**
 * A page that adds or edits, prepared for its template: every question that the template asks is a
 * method here. Immutable; for one page.
 *
 * @param record the id and version of the record that is edited; empty when one is added
 * @param key what this opening of the page is called, so that it is kept once
 * @param opened when it was opened, signed; empty for a page without a trap
 * @param asked the query that asked for the page's language; empty if none did
 * @param others errors that no field of the page can show
 * @param before what the edited record keeps, as JSON for the script
 */
record FormView(
    Form form,
    Mode mode,
    String title,
    String record,
    long version,
    String key,
    String opened,
    String asked,
    List<FieldView> fields,
    List<String> others,
    List<Difference> differences,
    String before,
    PageTheme look) {

  /** A field that somebody else changed while this page was open. */
  record Difference(String pointer, String label, String theirs, String yours) {

    /** True if there is something to choose. */
    boolean isChoice() {
      return !pointer.isEmpty();
    }
  }

  /** The name of the boxes that say of which fields theirs is kept. */
  static final String THEIRS = "_theirs";

  /** The name of the hidden input with the key. */
  static final String KEY = "_key";

  /** The name of the input that has the version of the record that the page was opened with. */
  static final String VERSION = "_version";

  /** The name of the hidden input that says that numbers are written in the language's way. */
  static final String LANGUAGE = "_language";

  String name() {
    return form.name();
  }

  Sentences words() {
    return Sentences.of(form);
  }

  String language() {
    return form.language().toLanguageTag();
  }

  String direction() {
    return Templates.direction(words());
  }

  String modeWord() {
    return mode.word();
  }

  /** True if a field takes files: they are sent beside the other values. */
  boolean sendsFiles() {
    return form.fields().hasFiles();
  }

  boolean editing() {
    return mode == Mode.EDIT;
  }

  /** A first save of the only record knows that there was none: version 0. */
  boolean versioned() {
    return editing() || form.isOne();
  }

  String intro() {
    return form.pages().intro();
  }

  String layout() {
    return form.pages().layout().orElseGet(look::layout).word();
  }

  /** Fields under a title; all of them under none, if the form has no sections. */
  record SectionView(String name, String title, List<FieldView> fields) {}

  List<SectionView> sections() {
    if (form.pages().sections().isEmpty()) {
      return List.of(new SectionView("", "", fields));
    }
    return form.pages().sections().stream()
        .map(
            it ->
                new SectionView(
                    it.name(),
                    it.title(),
                    fields.stream().filter(field -> it.fields().contains(field.name())).toList()))
        .toList();
  }

  String action() {
    String base = "/forms/" + form.name();
    if (form.isOne()) {
      return base + "/edit" + asked;
    }
    return (editing() ? base + "/" + record + "/edit" : base + "/new") + asked;
  }

  /** The fields in which what was typed goes, if the page stays open to add one more. */
  String clears() {
    After after = form.after(Mode.ADD);
    if (editing() || form.isOne() || !after.isStaying()) {
      return "";
    }
    boolean all = after.clears().size() == form.fields().names().size();
    return all ? "all" : after.clears().isEmpty() ? "none" : String.join(" ", after.clears());
  }

  String cancel() {
    String base = "/forms/" + form.name();
    return (editing() && !form.isOne() ? base + "/" + record : base) + asked;
  }

  String submit() {
    boolean adds = !editing() && !form.isOne();
    return form.pages()
        .button(mode)
        .orElseGet(() -> words().word(adds ? "page.add" : "page.save", Map.of()));
  }

  boolean refused() {
    return !wrong().isEmpty() || !others.isEmpty();
  }

  /** The title of the page: who only hears it learns from it that something is to be mended. */
  String headline() {
    String first = conflict() ? words().word("page.conflict", Map.of()) : refused() ? count() : "";
    return first.isEmpty() ? title : first + " · " + title;
  }

  boolean conflict() {
    return !differences.isEmpty();
  }

  /**
   * A field that needs the person.
   *
   * @param label with the row that it is in
   */
  record Wrong(String anchor, String label) {}

  List<Wrong> wrong() {
    List<Wrong> wrong = new ArrayList<>();
    collect(fields, "", wrong);
    return wrong;
  }

  private static void collect(List<FieldView> fields, String row, List<Wrong> wrong) {
    for (FieldView field : fields) {
      if (field.wrong()) {
        wrong.add(new Wrong(field.anchor(), row + field.label()));
      }
      collect(field.fields(), row, wrong);
      field
          .rows()
          .forEach(
              it -> collect(it.fields(), row + field.label() + " " + it.number() + ": ", wrong));
    }
  }

  /** True if a mark says which fields must be filled in: some, and not all. */
  boolean marks() {
    return fields.stream().anyMatch(FieldView::mayBeNeeded);
  }

  String count() {
    int count = wrong().size() + others.size();
    return words().word("page.mend", Map.of("count", new Value.Number(BigDecimal.valueOf(count))));
  }
}
