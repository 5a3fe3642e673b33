package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Condition;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;

/**
 * Reads {@code deliver}: which outlets are told of accepted submissions. Whether there is an outlet
 * of a name the service knows, and not the form file.
 */
final class DeliverReader {

  private static final List<String> CHANGES =
      Arrays.stream(DeliveryRule.Change.values()).map(DeliveryRule.Change::word).toList();

  private final Section file;
  private final Fields fields;
  private final SymbolTable names;
  private final FormRegistry registry;
  private final Errors errors;

  DeliverReader(
      Section file, Fields fields, SymbolTable names, FormRegistry registry, Errors errors) {
    this.registry = registry;
    this.file = file;
    this.fields = fields;
    this.names = names;
    this.errors = errors;
  }

  List<DeliveryRule> read() {
    List<DeliveryRule> rules = new ArrayList<>();
    int index = 0;
    for (Node item : file.items("deliver").orElse(List.of())) {
      Section.of(item, file.pointer("deliver") + "/" + index++, "A delivery", errors)
          .flatMap(this::rule)
          .ifPresent(rules::add);
    }
    return rules;
  }

  private Optional<DeliveryRule> rule(Section section) {
    section.allow(FormKeys.DELIVER);
    if (!section.has("to")) {
      section.missing("A delivery names its outlet: `{ to: office }`.");
      return Optional.empty();
    }
    Optional<String> to = section.text("to");
    if (to.filter(it -> !it.matches(FormKeys.NAME)).isPresent()) {
      section.bad(
          "to",
          "bad-value",
          "An outlet's name is a small letter, then up to 39 small letters, digits or hyphens.");
      return Optional.empty();
    }
    Optional<Set<String>> known = registry.outside().map(FormRegistry.Outside::outlets);
    if (to.isPresent() && known.filter(it -> !it.contains(to.get())).isPresent()) {
      section.unset("to", "outlet", to.get(), known.get());
    }
    Condition when = new Expressions(section, errors, names).condition("when", true);
    Set<DeliveryRule.Change> on = on(section);
    Optional<List<List<String>>> values = values(section);
    return to.map(it -> new DeliveryRule(it, on, when, values));
  }

  private Set<DeliveryRule.Change> on(Section section) {
    Node node = section.node("on").orElse(null);
    if (node == null) {
      return DeliveryRule.USUAL;
    }
    List<Node> items =
        node instanceof Node.Sequence ? section.items("on").orElse(List.of()) : List.of(node);
    Set<DeliveryRule.Change> on = EnumSet.noneOf(DeliveryRule.Change.class);
    for (Node item : items) {
      String word = Section.textOf(item).orElse("");
      Optional<DeliveryRule.Change> found =
          Arrays.stream(DeliveryRule.Change.values())
              .filter(it -> it.word().equals(word))
              .findFirst();
      found.ifPresent(on::add);
      if (found.isEmpty()) {
        section.bad(
            "on",
            item,
            "bad-value",
            "`on` has `add`, `edit`, `remove` and `confirm`, or some of them; not \""
                + Wellformed.of(word)
                + "\".",
            Near.to(word, CHANGES));
      }
    }
    if (items.isEmpty()) {
      section.bad(
          "on", "bad-value", "`on` names at least one of `add`, `edit`, `remove` and `confirm`.");
    }
    return on;
  }

  private Optional<List<List<String>>> values(Section section) {
    if (!section.has("values")) {
      return Optional.empty();
    }
    List<List<String>> paths = new ArrayList<>();
    int index = 0;
    for (Node item : section.items("values").orElse(List.of())) {
      String pointer = section.pointer("values") + "/" + index++;
      List<String> path = List.of(Section.textOf(item).orElse("").split("\\.", -1));
      Optional<Field> field = fields.find(path);
      if (field.isEmpty()) {
        errors.unknown(item.place(), pointer, "field", String.join(".", path), all(), "");
      } else if (field.get().type() == Type.SECRET || !field.get().isKept()) {
        errors.add(
            item.place(),
            pointer,
            "bad-value",
            "`" + String.join(".", path) + "` is not kept as it was typed, and cannot be told.");
      } else if (paths.contains(path)) {
        errors.add(
            item.place(), pointer, "duplicate", "`values` has `" + path.getLast() + "` twice.");
      } else {
        paths.add(path);
      }
    }
    return Optional.of(paths);
  }

  private List<String> all() {
    List<String> all = new ArrayList<>(fields.names());
    for (Field field : fields) {
      if (field.type() == Type.GROUP) {
        field.fields().names().forEach(it -> all.add(field.name() + "." + it));
      }
    }
    return all;
  }
}
