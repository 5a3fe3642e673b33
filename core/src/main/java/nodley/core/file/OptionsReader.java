package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.line.Tidy;
import nodley.core.value.Wellformed;

/** The options of a choice: a list of values, or values with their labels. */
final class OptionsReader {

  private final Section keys;
  private final Errors errors;

  OptionsReader(Section keys, Errors errors) {
    this.keys = keys;
    this.errors = errors;
  }

  List<Field.Choice> read() {
    Node node = keys.node("options").orElse(null);
    Map<String, Field.Choice> options = new LinkedHashMap<>();
    switch (node) {
      case null -> keys.missing("A choice needs `options`: [leisure, trade].");
      case Node.Sequence sequence -> sequence.items().forEach(item -> option(item, item, options));
      case Node.Mapping mapping ->
          mapping
              .entries()
              .forEach(
                  entry ->
                      option(
                          new Node.Scalar(entry.place(), entry.key(), Node.Scalar.Sort.TEXT),
                          entry.value(),
                          options));
      case Node.Scalar scalar ->
          keys.wrongType("options", scalar, "a list, or a set of values with their labels");
    }
    if (node instanceof Node.Sequence(_, var items) && items.isEmpty()
        || node instanceof Node.Mapping(_, var entries) && entries.isEmpty()) {
      keys.bad("options", "bad-value", "A choice needs at least one option.");
    }
    return List.copyOf(options.values());
  }

  private void option(Node value, Node label, Map<String, Field.Choice> options) {
    Optional<String> text = Section.textOf(value).filter(it -> !it.isBlank());
    Optional<String> words = Section.textOf(label);
    if (text.isEmpty() || words.isEmpty()) {
      Node wrong = text.isEmpty() ? value : label;
      errors.add(wrong.place(), keys.pointer("options"), "wrong-type", "An option is text.");
    } else if (!text.get().equals(Tidy.trim(Tidy.standard(text.get())))) {
      errors.add(
          value.place(),
          keys.pointer("options"),
          "bad-value",
          "An option has no white space around it, and is written in NFC.");
    } else if (options.putIfAbsent(text.get(), new Field.Choice(text.get(), words.get())) != null) {
      errors.add(
          value.place(),
          keys.pointer("options"),
          "duplicate",
          "The option \"" + Wellformed.of(text.get()) + "\" stands here twice.");
    }
  }
}
