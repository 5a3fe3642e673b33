package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.After;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Pages;
import nodley.core.submission.Sentences;
import nodley.core.value.Value;
import nodley.service.caller.RequestedLanguages;

/**
 * A page that adds or edits, prepared for its template: every question that the template asks is a
 * method here. Immutable; for one page.
 *
 * @param record the id and version of the record that is edited; empty when one is added
 * @param key what this opening of the page is called, so that it is kept once
 * @param opened when it was opened, signed; empty for a page without a trap
 * @param asked the query that asked for the page's language; empty if none did
 * @param others errors that no field of the page can show
 * @param progress the draft and the step that are open
 * @param draft the drafts of the page
 * @param overview what was filled in, step by step; empty unless that is what is open
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
    Progress progress,
    DraftView draft,
    List<Overview> overview,
    String before,
    PageTheme look) {

  /** The same page in another theme. */
  FormView with(PageTheme other) {
    return new FormView(
        form,
        mode,
        title,
        record,
        version,
        key,
        opened,
        asked,
        fields,
        others,
        differences,
        progress,
        draft,
        overview,
        before,
        other);
  }

  /** A field that somebody else changed while this page was open. */
  record Difference(String pointer, String label, String theirs, String yours) {

    /** True if there is something to choose. */
    boolean isChoice() {
      return !pointer.isEmpty();
    }
  }

  /**
   * A step as it was filled in.
   *
   * @param change where it can be changed
   */
  record Overview(String title, List<RecordLines.Line> lines, String change, String changeWord) {

    /** What the link says to those who hear it alone. */
    String changes() {
      return changeWord + ": " + title;
    }

    static Overview of(Form form, Pages.Section step, List<RecordLines.Line> lines, String change) {
      Sentences words = Sentences.of(form);
      return new Overview(step.title(), lines, change, words.word("page.step.edit", Map.of()));
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

  /** The name of the form, as addresses have it. */
  String name() {
    return form.name();
  }

  /** The words of pages, in the language of this one. */
  Sentences words() {
    return Sentences.of(form);
  }

  /** The language of the page, as a tag (RFC 5646) for {@code lang}. */
  String language() {
    return form.language().toLanguageTag();
  }

  /** The direction of its writing, for {@code dir}: {@code ltr} or {@code rtl}. */
  String direction() {
    return Templates.direction(words());
  }

  /** {@code add} or {@code edit}. */
  String modeWord() {
    return mode.word();
  }

  /** True if a field takes files: they are sent beside the other values. */
  boolean sendsFiles() {
    return form.fields().hasFiles();
  }

  /** True if a record is edited. */
  boolean editing() {
    return mode == Mode.EDIT;
  }

  /** A first save of the only record knows that there was none: version 0. */
  boolean versioned() {
    return editing() || form.isOne();
  }

  /** The text above the fields; empty if the form has none. */
  String intro() {
    return form.pages().intro();
  }

  /** How labels stand to controls: what the form says, else its theme. */
  String layout() {
    return form.pages().layout().orElseGet(look::layout).word();
  }

  /**
   * Fields under a title; all of them under none, if the form has no sections.
   *
   * @param step its name, if it is a step; else empty
   * @param off true if another step is open
   */
  record SectionView(String name, String title, String step, boolean off, List<FieldView> fields) {}

  /** The sections of the form; where it has none, all fields in one without a title. */
  List<SectionView> sections() {
    Map<String, FieldView> byName = new HashMap<>();
    fields.forEach(it -> byName.put(it.name(), it));
    List<SectionView> sections = new ArrayList<>();
    for (Pages.Section section : form.pages().sections()) {
      sections.add(
          new SectionView(
              section.name(),
              section.title(),
              stepped() ? section.name() : "",
              stepped() && !section.name().equals(step()),
              section.fields().stream()
                  .map(byName::get)
                  .filter(it -> it != null && !(stepped() && it.field().isSecret()))
                  .toList()));
    }
    if (sections.isEmpty()) {
      return List.of(new SectionView("", "", "", false, fields));
    }
    // A draft never has a secret: they are asked for where the form is sent.
    List<FieldView> secrets = fields.stream().filter(it -> it.field().isSecret()).toList();
    if (stepped() && !secrets.isEmpty()) {
      sections.add(new SectionView("", "", Pages.OVERVIEW, !atOverview(), secrets));
    }
    return sections;
  }

  /** True if the form has steps, each with a page of its own. */
  boolean stepped() {
    return form.pages().stepped();
  }

  /** The name of the step that is open; empty if the form has none. */
  String step() {
    return stepped() ? progress.open(form) : "";
  }

  /** True if what was filled in is shown before it is sent. */
  boolean atOverview() {
    return step().equals(Pages.OVERVIEW);
  }

  /** True if the page leads to a next step, in place of sending the form. */
  boolean leadsOn() {
    return stepped() && !atOverview();
  }

  /** The name of the step before the one that is open; empty at the first. */
  String back() {
    return stepped() ? progress.before(form, step()).orElse("") : "";
  }

  /** A step in the list of them; {@code off} if it is left out just now. */
  record StepView(String name, String title, boolean open, boolean off) {}

  /** All steps with the overview as the last; none if the form has no steps. */
  List<StepView> steps() {
    List<StepView> steps = new ArrayList<>();
    if (stepped()) {
      String open = step();
      for (Pages.Section section : form.pages().sections()) {
        steps.add(
            new StepView(
                section.name(),
                section.title(),
                section.name().equals(open),
                !progress.isShown(form, section)));
      }
      steps.add(
          new StepView(
              Pages.OVERVIEW, words().word("page.step.overview", Map.of()), atOverview(), false));
    }
    return steps;
  }

  /** Which of the steps is open: {@code 2 of 4}. */
  String place() {
    List<String> all = progress.steps(form);
    return words()
        .word(
            "page.step.of",
            Map.of("number", number(all.indexOf(step()) + 1L), "count", number(all.size() - 1L)));
  }

  private static Value number(long number) {
    return new Value.Number(BigDecimal.valueOf(number));
  }

  /** True if what is typed can be kept for later. */
  boolean keeps() {
    return form.drafting().isPresent();
  }

  /** True if the page belongs to a draft. */
  boolean drafted() {
    return !draft.id().isEmpty();
  }

  /** Where the form is sent. */
  String action() {
    return address(form, editing() ? Optional.of(record) : Optional.empty()) + asked;
  }

  private static String address(Form form, Optional<String> record) {
    String base = "/forms/" + form.name();
    if (form.isOne()) {
      return base + "/edit";
    }
    return record.map(it -> base + "/" + it + "/edit").orElse(base + "/new");
  }

  /** The address of the page that adds, or that edits a record, in the language of a request. */
  static String address(Form form, Optional<String> record, HttpServletRequest request) {
    return address(form, record) + RequestedLanguages.query(request);
  }

  /** The same for a draft and a step. */
  static String address(
      Form form, Optional<String> record, HttpServletRequest request, String draft, String step) {
    String address = address(form, record, request);
    String query =
        (draft.isEmpty() ? "" : "&draft=" + draft) + (step.isEmpty() ? "" : "&step=" + step);
    return query.isEmpty()
        ? address
        : address + (address.contains("?") ? query : "?" + query.substring(1));
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

  /** Where who sends nothing goes. */
  String cancel() {
    String base = "/forms/" + form.name();
    return (editing() && !form.isOne() ? base + "/" + record : base) + asked;
  }

  /** What the button says that sends it. */
  String submit() {
    boolean adds = !editing() && !form.isOne();
    return form.pages()
        .button(mode)
        .orElseGet(() -> words().word(adds ? "page.add" : "page.save", Map.of()));
  }

  /** True if errors are shown. */
  boolean refused() {
    return !wrong().isEmpty() || !others.isEmpty();
  }

  /** The title of the page: who only hears it learns from it that something is to be mended. */
  String headline() {
    String heading =
        leadsOn()
            ? steps().stream().filter(StepView::open).findFirst().orElseThrow().title()
                + " · "
                + title
            : title;
    String first = conflict() ? words().word("page.conflict", Map.of()) : refused() ? count() : "";
    return first.isEmpty() ? heading : first + " · " + heading;
  }

  /** True if somebody else changed the record while the page was open. */
  boolean conflict() {
    return !differences.isEmpty();
  }

  /**
   * A field that needs the person.
   *
   * @param label with the row that it is in
   */
  record Wrong(String anchor, String label) {}

  /** The fields at which an error stands, in the order of the page. */
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

  /** How many errors there are, as a sentence. */
  String count() {
    int count = wrong().size() + others.size();
    return words().word("page.mend", Map.of("count", new Value.Number(BigDecimal.valueOf(count))));
  }
}
