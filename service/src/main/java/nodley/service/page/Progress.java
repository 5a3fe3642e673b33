package nodley.service.page;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import nodley.core.form.Form;
import nodley.core.form.Pages;
import nodley.store.draft.Draft;

/**
 * How far a submission is that is filled in on a page. Immutable.
 *
 * @param draft the draft that the page shows; empty if it shows none
 * @param others the sender's other drafts of the same
 * @param step the name of the step that was asked for; empty for the first
 * @param hidden the names of the fields that the form's rules leave out just now
 */
record Progress(Optional<Draft> draft, List<Draft> others, String step, Set<String> hidden) {

  /** The beginning, where nothing is known yet. */
  static final Progress NONE = new Progress(Optional.empty(), List.of(), "", Set.of());

  Progress {
    others = List.copyOf(others);
    hidden = Set.copyOf(hidden);
  }

  /** The same where the form's rules leave out these fields. */
  Progress leaving(Set<String> fields) {
    return new Progress(draft, others, step, fields);
  }

  /** True if a step has something to fill in; one whose fields are all left out is left out. */
  boolean isShown(Form form, Pages.Section step) {
    return step.fields().stream()
        .filter(it -> !hidden.contains(it))
        .flatMap(it -> form.field(it).stream())
        .anyMatch(it -> it.isOnPages() && !it.isSecret());
  }

  /** The names of the steps that are shown, and of the overview that follows them. */
  List<String> steps(Form form) {
    return Stream.concat(
            form.pages().sections().stream()
                .filter(it -> isShown(form, it))
                .map(Pages.Section::name),
            Stream.of(Pages.OVERVIEW))
        .toList();
  }

  /** The step that is open: the one that was asked for, or else the first that is shown. */
  String open(Form form) {
    List<String> steps = steps(form);
    return steps.contains(step) ? step : steps.getFirst();
  }

  /** The step that follows one, whether that is shown itself or not. */
  String after(Form form, String current) {
    List<String> shown = steps(form);
    List<String> all =
        Stream.concat(
                form.pages().sections().stream().map(Pages.Section::name),
                Stream.of(Pages.OVERVIEW))
            .toList();
    return all.stream()
        .skip(all.indexOf(current) + 1L)
        .filter(shown::contains)
        .findFirst()
        .orElse(Pages.OVERVIEW);
  }

  /** The step before one; empty for the first. */
  Optional<String> before(Form form, String current) {
    List<String> shown = steps(form);
    int place = shown.indexOf(current);
    return place > 0 ? Optional.of(shown.get(place - 1)) : Optional.empty();
  }

  /** The step that has a field; the overview has the secrets. */
  static String of(Form form, String field) {
    return form.pages().sections().stream()
        .filter(it -> it.fields().contains(field))
        .filter(_ -> form.field(field).filter(it -> it.isSecret()).isEmpty())
        .map(Pages.Section::name)
        .findFirst()
        .orElse(Pages.OVERVIEW);
  }
}
