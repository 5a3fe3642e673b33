package nodley.begin;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileError;
import nodley.core.file.FormFileException;
import nodley.core.name.Words;

/**
 * A form file that is being begun: fields and notes are added, then it is written once. Whatever
 * the source, the file that comes out has no errors. For one thread.
 */
public final class Sketch {

  /** So often keys that the form file cannot have are taken out before it is given up. */
  private static final int MAX_ROUNDS = 200;

  private final String form;
  private final List<String> notes = new ArrayList<>();
  private final List<Map<String, Object>> together = new ArrayList<>();
  final FieldsSketch fields = new FieldsSketch();

  Sketch(String form, String from) {
    this.form = form;
    notes.add("Begun from " + from + "; what is guessed is said. Read it through before use.");
  }

  Sketch say(String note) {
    notes.add(note);
    return this;
  }

  /** Fields of the form, by name, whose values stand only once taken together. */
  void together(List<String> names, boolean ignoreCase) {
    Map<String, Object> keys = new LinkedHashMap<>();
    keys.put("fields", names);
    if (ignoreCase) {
      keys.put("ignore-case", true);
    }
    together.add(keys);
  }

  /**
   * The form file. It has no errors: a key that cannot stand in one is left out, and a comment says
   * so.
   *
   * @throws BadSource if the source has no field at all
   */
  public String yaml() throws BadSource {
    if (fields.byName.isEmpty()) {
      throw new BadSource("There is no field in it to begin with.");
    }
    for (int round = 0; round < MAX_ROUNDS; round++) {
      String text = write();
      try {
        FormFile.read(text);
        return text;
      } catch (FormFileException e) {
        Set<String> taken = new HashSet<>();
        for (FormFileError error : e.errors()) {
          // Of one field the first is taken out: the others may come of it.
          String field = error.pointer().replaceFirst("/[^/]*$", "");
          if (taken.add(field) && !takeOut(error)) {
            throw new BadSource("No form file can be made of it: " + error.detail());
          }
          if (!error.pointer().startsWith("#/fields")) {
            // Their places move when one is taken out.
            break;
          }
        }
      }
    }
    throw new BadSource("No form file can be made of it: too much in it has no place in one.");
  }

  /** Takes the key of an error out: {@code #/fields/contact/fields/mail/pattern}. */
  private boolean takeOut(FormFileError error) {
    String[] steps = error.pointer().replaceFirst("^#/", "").split("/");
    FieldsSketch here = fields;
    FieldSketch field = null;
    int at = 0;
    while (at + 1 < steps.length && steps[at].equals("fields")) {
      field = here.byName.get(steps[at + 1]);
      if (field == null) {
        return false;
      }
      here = field.inside;
      at += 2;
    }
    if (field == null) {
      return steps[0].equals("unique") && takeOutTogether(steps, error);
    }
    String key = at < steps.length ? steps[at] : "";
    Object value = field.keys.remove(key);
    if (key.equals("type") || value == null) {
      // What is wrong with the field as a whole is not known by one key: it begins as plain text.
      field.keys.keySet().removeIf(it -> !it.equals("label"));
      field.type("text").say("Left as plain text: " + error.detail());
      return true;
    }
    field.say("Left out: `" + key + ": " + value + "`. " + error.detail());
    return true;
  }

  private boolean takeOutTogether(String[] steps, FormFileError error) {
    int index = steps.length > 1 ? Integer.parseInt(steps[1]) : together.size() - 1;
    Map<String, Object> keys = together.remove(index);
    say("Left out: `unique: " + Yaml.flow(keys) + "`. " + error.detail());
    return true;
  }

  private String write() {
    StringBuilder out = new StringBuilder();
    notes.forEach(note -> comment(out, "", note));
    out.append("form: ").append(form).append('\n');
    Optional<FieldSketch> named =
        fields.byName.values().stream().filter(it -> it.type().equals("text")).findFirst();
    out.append("title: { add: ")
        .append(Yaml.scalar("Add " + Words.of(form).toLowerCase(java.util.Locale.ROOT)))
        .append(", list: ")
        .append(Yaml.scalar(Words.of(form)))
        .append(" }\n");
    named.ifPresent(it -> out.append("called: \"{").append(it.name).append("}\"\n"));
    out.append("fields:\n");
    fields(out, "  ", fields);
    if (!together.isEmpty()) {
      out.append("unique:\n");
      together.forEach(it -> out.append("  - ").append(Yaml.flow(it)).append('\n'));
    }
    return out.toString();
  }

  private static void fields(StringBuilder out, String indent, FieldsSketch fields) {
    for (FieldSketch field : fields.byName.values()) {
      field.comments.forEach(comment -> comment(out, indent, comment));
      out.append(indent).append(field.name).append(':');
      if (field.inside.byName.isEmpty()) {
        out.append(' ').append(Yaml.flow(field.keys)).append('\n');
      } else {
        out.append('\n');
        for (Map.Entry<String, Object> key : field.keys.entrySet()) {
          out.append(indent).append("  ").append(key.getKey()).append(": ");
          out.append(Yaml.flow(key.getValue())).append('\n');
        }
        out.append(indent).append("  fields:\n");
        fields(out, indent + "    ", field.inside);
      }
    }
  }

  private static void comment(StringBuilder out, String indent, String text) {
    out.append(indent).append("# ").append(text.replaceAll("[\\p{Cntrl}\\s]+", " ")).append('\n');
  }
}
