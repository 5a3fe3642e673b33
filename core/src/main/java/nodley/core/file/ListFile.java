package nodley.core.file;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Choice;
import nodley.core.name.FieldName;
import nodley.core.name.Words;
import nodley.core.value.Numbers;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.core.value.Wellformed;

/**
 * A named set of options, shared by forms: {@code NAME.list.yaml}.
 *
 * <pre>
 * list: services
 * options:
 *   - { value: water, label: Fresh water }
 *   - { value: crane, label: Mast crane, for: sail }
 *   - { value: coal, label: Coal, offered: false }
 * </pre>
 *
 * or, in short, {@code options: { water: Fresh water }}. Keys besides value, label and offered are
 * marks of the option, which {@code where} can ask for.
 */
public record ListFile(String name, List<Choice> choices, Map<String, ExpressionType> marks) {

  private static final String NAME = "[a-z][a-z0-9-]{0,39}";

  public ListFile {
    choices = List.copyOf(choices);
    marks = new LinkedHashMap<>(marks);
  }

  /**
   * Reads a list.
   *
   * @param expected the name it must have, where its place has given it one already
   * @throws FormFileException with all that is wrong
   */
  public static ListFile read(String text, Format format, Optional<String> expected)
      throws FormFileException {
    var errors = new Errors();
    Section file = SharedFile.open(text, format, "list", NAME, expected, errors);
    file.allow("A list", List.of("list", "options"));
    var reader = new Reader(file, errors, new LinkedHashMap<>(), new LinkedHashMap<>());
    reader.read();
    if (!errors.isEmpty()) {
      throw errors.thrown();
    }
    return new ListFile(
        file.text("list").orElseThrow(), List.copyOf(reader.choices().values()), reader.marks());
  }

  /** The marks of an option as names, before those around the field. */
  Names names(Names around) {
    Map<String, ExpressionType> kinds = new LinkedHashMap<>(marks);
    kinds.put("value", ExpressionType.of(ExpressionType.Base.TEXT));
    kinds.put("label", ExpressionType.of(ExpressionType.Base.TEXT));
    return new ExpressionTypeNames(kinds, Optional.of(around));
  }

  private record Reader(
      Section file, Errors errors, Map<String, Choice> choices, Map<String, ExpressionType> marks) {

    void read() {
      Node node = file.node("options").orElse(null);
      switch (node) {
        case null -> file.missing("A list needs `options`: { water: Fresh water }.");
        case Node.Mapping(Place _, var entries) ->
            entries.forEach(
                entry ->
                    Section.textOf(entry.value())
                        .ifPresentOrElse(
                            label -> add(entry.place(), entry.key(), label, true, Map.of()),
                            () -> file.wrongType("options", entry.value(), "labels by value")));
        case Node.Sequence(Place _, var items) -> items.forEach(this::option);
        case Node.Scalar scalar -> file.wrongType("options", scalar, "a list of options");
      }
      if (errors.isEmpty() && choices.isEmpty()) {
        file.bad("options", "bad-value", "A list needs at least one option.");
      }
    }

    private void option(Node item) {
      String pointer = file.pointer("options");
      if (item instanceof Node.Scalar) {
        Section.textOf(item)
            .ifPresent(value -> add(item.place(), value, Words.of(value), true, Map.of()));
        return;
      }
      Section.of(item, pointer, "An option", errors)
          .ifPresent(
              option -> {
                if (!option.has("value")) {
                  option.missing("An option has a `value`.");
                  return;
                }
                String value = option.text("value").orElse("");
                add(
                    item.place(),
                    value,
                    option.text("label").orElse(value.isEmpty() ? "" : Words.of(value)),
                    option.bool("offered").orElse(true),
                    marks(option));
              });
    }

    private Map<String, Value> marks(Section option) {
      Map<String, Value> found = new LinkedHashMap<>();
      for (Node.Entry entry : option.entries()) {
        String mark = entry.key();
        if (List.of("value", "label", "offered").contains(mark)) {
          continue;
        }
        if (!FieldName.isWrittenSo(mark)) {
          option.bad(
              mark,
              "bad-value",
              "A mark is named like a field, not \"" + Wellformed.of(mark) + "\".");
          continue;
        }
        mark(option, entry).ifPresent(value -> found.put(mark, value));
      }
      return found;
    }

    private Optional<Value> mark(Section option, Node.Entry entry) {
      if (!(entry.value() instanceof Node.Scalar scalar)) {
        option.wrongType(entry.key(), entry.value(), "one value");
        return Optional.empty();
      }
      Optional<BigDecimal> number =
          scalar.type() == Node.Scalar.ScalarType.NUMBER
              ? Numbers.read(scalar.text())
              : Optional.empty();
      Value value =
          switch (scalar.type()) {
            case BOOLEAN -> new Value.Bool(scalar.text().equalsIgnoreCase("true"));
            case NUMBER ->
                number.<Value>map(Value.Number::new).orElse(new Value.Text(scalar.text()));
            case TEXT -> new Value.Text(scalar.text());
            case NULL -> Value.BLANK;
          };
      ExpressionType kind =
          ExpressionType.of(
              switch (value) {
                case Value.Bool _ -> ExpressionType.Base.BOOLEAN;
                case Value.Number _ -> ExpressionType.Base.DECIMAL;
                default -> ExpressionType.Base.TEXT;
              });
      ExpressionType earlier = marks.putIfAbsent(entry.key(), kind);
      if (earlier != null && !earlier.equals(kind) && !value.isBlank()) {
        option.bad(
            entry.key(),
            "wrong-type",
            "`" + entry.key() + "` is " + earlier.words() + " at another option.");
        return Optional.empty();
      }
      return Optional.of(value).filter(it -> !it.isBlank());
    }

    private void add(
        Place place, String value, String label, boolean offered, Map<String, Value> marks) {
      String pointer = file.pointer("options");
      if (value.isBlank()) {
        errors.add(place, pointer, "bad-value", "An option's value is not empty.");
        return;
      }
      Map<String, Value> all = new LinkedHashMap<>(marks);
      all.put("value", new Value.Text(value));
      all.put("label", new Value.Text(label));
      if (OptionsReader.isRight(value, place, pointer, errors)
          && choices.putIfAbsent(value, new Choice(value, label, offered, new Values(all)))
              != null) {
        OptionsReader.twice(value, place, pointer, errors);
      }
    }
  }
}
