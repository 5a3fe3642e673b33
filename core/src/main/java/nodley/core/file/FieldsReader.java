package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.name.FieldName;
import nodley.core.value.Wellformed;

/**
 * Reads sibling fields: those of a form, of a group, or of rows. Checks what concerns their names
 * together: that they can be column names and HTML names, and do not differ in upper and lower case
 * alone.
 */
record FieldsReader(ReaderContext reach, SymbolTable names, int depth) {

  Fields read(Section keys, String key) {
    Section section = keys.section(key).orElse(null);
    if (section == null) {
      return Fields.NONE;
    }
    if (section.entries().isEmpty()) {
      keys.bad(key, "bad-value", "There should be at least one field here.");
    }
    Map<String, Field> fields = new LinkedHashMap<>();
    Map<String, String> ignoringCase = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
    Map<String, String> earlier = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
    for (Node.Entry entry : section.entries()) {
      String name = entry.key();
      String pointer = section.pointer(name);
      if (!FieldName.isWrittenSo(name) || FieldName.isBarred(name)) {
        reach.errors().add(entry.place(), pointer, "bad-value", badName(name));
      }
      String neighbour = ignoringCase.putIfAbsent(name, name);
      if (neighbour != null && !neighbour.equals(name)) {
        reach
            .errors()
            .add(
                entry.place(),
                pointer,
                "duplicate",
                "`" + name + "` and `" + neighbour + "` differ only in their case.");
      }
      Section field = Section.of(entry.value(), pointer, "A field", reach.errors()).orElse(null);
      if (field != null) {
        new FieldReader(name, field, reach, names, depth)
            .read()
            .ifPresent(it -> fields.put(name, it));
        checkEarlier(name, field, section, earlier);
      }
    }
    return new Fields(fields.values());
  }

  /** A field has taken over from one that is not here any more, and no two from the same. */
  private static void checkEarlier(
      String name, Section field, Section all, Map<String, String> earlier) {
    String was = field.node("was").flatMap(Section::textOf).orElse("");
    if (was.isEmpty()) {
      // Not there, or of the wrong type, which its own reader tells.
      return;
    }
    if (!FieldName.isWrittenSo(was)) {
      field.bad(
          "was", "bad-value", "\"" + Wellformed.of(was) + "\" is not a valid name of a field.");
    } else if (all.entries().stream().anyMatch(it -> it.key().equalsIgnoreCase(was))) {
      field.bad(
          "was",
          "bad-value",
          "`" + was + "` is a field here; `was` is the name of one that is not any more.");
    } else if (earlier.putIfAbsent(was, name) != null) {
      field.bad(
          "was",
          "duplicate",
          "`" + earlier.get(was) + "` was `" + was + "` already; only one field can be.");
    }
  }

  private static String badName(String name) {
    return FieldName.isBarred(name)
        ? "`" + name + "` is a name that is in use already; choose another."
        : "A field's name is a small letter, then up to 39 letters, digits or single underscores"
            + " between them, not \""
            + Wellformed.of(name)
            + "\".";
  }
}
