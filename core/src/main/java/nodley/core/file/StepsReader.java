package nodley.core.file;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Condition;
import nodley.core.form.Field;
import nodley.core.form.Fields;

/**
 * Reads when the steps of a form are shown. A step that is not shown is left out with its fields,
 * so that its condition is one of each of them.
 */
record StepsReader(Section file, SymbolTable names, Errors errors) {

  /** Returns the fields, each shown only where its step is. */
  Fields shown(Fields fields) {
    Section steps = file.section("steps").orElse(null);
    if (steps == null) {
      return fields;
    }
    Map<String, Condition> conditions = new HashMap<>();
    for (Node.Entry entry : steps.entries()) {
      steps.section(entry.key()).ifPresent(step -> note(step, conditions));
    }
    List<Field> shown = new ArrayList<>();
    for (Field field : fields) {
      Optional<Condition> ofStep = Optional.ofNullable(conditions.get(field.name()));
      shown.add(ofStep.map(it -> shown(field, it)).orElse(field));
    }
    return new Fields(shown);
  }

  private void note(Section step, Map<String, Condition> conditions) {
    if (step.has("shown") && step.node("fields").orElse(null) instanceof Node.Sequence fields) {
      Condition condition = new Expressions(step, errors, names).condition("shown", true);
      for (Node item : fields.items()) {
        Section.textOf(item).ifPresent(it -> conditions.put(it, condition));
      }
    }
  }

  private static Field shown(Field field, Condition ofStep) {
    Field.Presence presence = field.presence();
    return field.toBuilder()
        .presence(
            new Field.Presence(
                presence.required(), presence.shown().and(ofStep), presence.editable()))
        .build();
  }
}
