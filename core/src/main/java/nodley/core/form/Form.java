package nodley.core.form;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import nodley.core.value.Values;

/**
 * A form: its fields, in order, and how its records are added, edited and called.
 *
 * @param label what people call the form itself, made from its name
 * @param called the template for one record's name; empty if there is no text to take it from
 */
public record Form(
    String name,
    String label,
    Titles titles,
    Optional<Template> called,
    Access access,
    After afterAdd,
    After afterEdit,
    Map<String, Field> byName) {

  /** The headings of the pages for adding, for editing, and for the list. */
  public record Titles(Template add, Template edit, String list) {}

  public Form {
    byName = new LinkedHashMap<>(byName);
  }

  public List<Field> fields() {
    return List.copyOf(byName.values());
  }

  public Optional<Field> field(String name) {
    return Optional.ofNullable(byName.get(name));
  }

  /** The unique fields, in order. */
  public List<Field> uniqueFields() {
    return byName.values().stream().filter(field -> field.unique().isPresent()).toList();
  }

  /** The names of other forms that this one's fields refer to; itself left out. */
  public List<String> refersTo() {
    return byName.values().stream()
        .flatMap(field -> field.refersTo().stream())
        .filter(other -> !other.equals(name))
        .distinct()
        .collect(Collectors.toList());
  }

  /** The name of a record in lists, references and titles. */
  public String called(Values values) {
    String text = called.map(template -> fill(template, values)).orElse("").strip();
    return text.isEmpty() ? label : text;
  }

  public String title(Mode mode, Values values) {
    return mode == Mode.ADD ? titles.add().text() : fill(titles.edit(), values);
  }

  public After after(Mode mode) {
    return mode == Mode.ADD ? afterAdd : afterEdit;
  }

  /** Fills a template with display texts of the form's own fields. */
  public String fill(Template template, Values values) {
    return template.fill(
        path -> field(path).map(field -> field.display(values.get(path))).orElse(""));
  }
}
