package nodley.core.file;

import java.util.List;
import java.util.Optional;
import nodley.core.form.After;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Template;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;

/**
 * Reads plain texts with {@code {names}} in them: titles, what a record is called, what is said
 * after it.
 *
 * @param form the name of the form whose fields they are
 */
record TemplateReader(String form, Fields fields, FormRegistry registry) {

  /** A text that may name fields. */
  Optional<Template> telling(Section section, String key) {
    return section.text(key).map(Template::new).filter(it -> isKnown(section, key, it));
  }

  /** An address that may name fields of the form itself, and the record's id. */
  Optional<Template> address(Section section, String key) {
    TemplateReader alone = new TemplateReader(form, fields, FormRegistry.UNKNOWN);
    Template template = new Template(section.text(key).orElseThrow());
    for (String path : template.names()) {
      Optional<Field> through = behindReference(path);
      if (through.isPresent()) {
        section.bad(
            key,
            "bad-text",
            "An address names fields of this form: {"
                + through.get().name()
                + "} is the id of the other record.");
        return Optional.empty();
      }
    }
    Template known = new Template(template.text().replace("{" + After.ID + "}", ""));
    return alone.isKnown(section, key, known) ? Optional.of(template) : Optional.empty();
  }

  /** The reference through which a path leads, if it does. */
  private Optional<Field> behindReference(String path) {
    int dot = path.lastIndexOf('.');
    return dot < 0
        ? Optional.empty()
        : fields
            .find(List.of(path.substring(0, dot).split("\\.", -1)))
            .filter(it -> it.refersTo().isPresent());
  }

  /** A title that also stands where there is no record yet, and so cannot name a field. */
  Optional<Template> bare(Section section, String key) {
    Optional<Template> template = section.text(key).map(Template::new);
    template
        .filter(it -> !it.names().isEmpty())
        .ifPresent(
            it ->
                section.bad(
                    key,
                    "bad-text",
                    "This title also stands where there is no record, so it cannot have {"
                        + Wellformed.of(it.names().getFirst())
                        + "} in it; only `edit` can."));
    return template;
  }

  private boolean isKnown(Section section, String key, Template template) {
    for (String path : template.names()) {
      Optional<String> wrong = wrong(path);
      if (wrong.isPresent()) {
        Optional<String> near = Near.to(path, fields.names());
        boolean unknown = fields.find(path.split("\\.")[0]).isEmpty();
        section.bad(
            key,
            unknown ? "unknown-name" : "bad-text",
            wrong.get() + (unknown ? near.map(it -> " Did you mean `" + it + "`?").orElse("") : ""),
            unknown ? near : Optional.empty());
        return false;
      }
    }
    return true;
  }

  /** Why a path has no text of its own; through a reference, as far as the other form is known. */
  private Optional<String> wrong(String path) {
    Fields here = fields;
    String[] parts = path.split("\\.", -1);
    for (int i = 0; i < parts.length; i++) {
      Field field = here.find(parts[i]).orElse(null);
      if (field == null) {
        return Optional.of("There is no field `" + Wellformed.of(path) + "`.");
      }
      boolean last = i == parts.length - 1;
      if (field.isSecret()) {
        return Optional.of("`" + path + "` is a secret, and is never told.");
      }
      if (field.access().isForSome()) {
        return Optional.of(
            "`" + path + "` is not for everybody (`see`), and this text is read by all.");
      }
      if (last) {
        return Optional.empty();
      }
      if (field.refersTo().isPresent() && !field.refersTo().get().equals(form)) {
        Optional<Form> other = registry.form(field.refersTo().get());
        if (other.isEmpty()) {
          return Optional.empty();
        }
        here = other.get().fields();
      } else if (field.refersTo().isPresent()) {
        here = fields;
      } else if (field.type() == Type.GROUP) {
        here = field.fields();
      } else {
        return Optional.of("`" + parts[i] + "` in `" + path + "` has no fields.");
      }
    }
    return Optional.empty();
  }
}
