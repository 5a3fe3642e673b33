package nodley.core.file;

import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.form.Template;

/** Reads {@code title}: one text for all pages, or one each to add, to edit and for the list. */
record TitlesReader(Section file, TemplateReader templates, Errors errors) {

  /**
   * Reads the titles that are there.
   *
   * @param usual what stands in place of those that are not
   */
  Form.Titles read(Form.Titles usual) {
    Node node = file.node("title").orElse(null);
    if (node == null) {
      return usual;
    }
    if (Section.textOf(node).isPresent()) {
      Template both = templates.bare(file, "title").orElseThrow();
      return new Form.Titles(both, both, both.text());
    }
    Section title = Section.of(node, file.pointer("title"), "`title`", errors).orElse(null);
    if (title == null) {
      return usual;
    }
    title.allow(FormKeys.TITLE);
    Optional<Template> add = templates.bare(title, "add");
    Optional<Template> edit = templates.telling(title, "edit");
    Optional<Template> list = templates.bare(title, "list");
    return new Form.Titles(
        add.orElse(usual.add()),
        edit.orElse(usual.edit()),
        list.map(Template::text).orElse(usual.list()));
  }
}
