package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.expression.Expression;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Choice;
import nodley.core.form.Options;
import nodley.core.form.SourceColumn;
import nodley.core.form.SourceOptions;
import nodley.core.form.Type;
import nodley.core.submission.Tidy;
import nodley.core.value.Wellformed;

/**
 * Reads the options of a choice, and which of them are offered: values alone, values with labels, a
 * shared list, or records of another form. Errors are collected; where there are any, the field has
 * no options.
 */
final class OptionsReader {

  private static final Set<String> REQUEST =
      Set.of("list", "from", "value", "label", "sort", "where");

  /** One of these says whence the options come; the others can be values, with their labels. */
  private static final Set<String> WHENCE = Set.of("list", "from", "where");

  private final Section keys;
  private final Errors errors;
  private final FormRegistry registry;
  private final Names names;

  OptionsReader(Section keys, Errors errors, FormRegistry registry, Names names) {
    this.keys = keys;
    this.errors = errors;
    this.registry = registry;
    this.names = names;
  }

  /** True for {@code {list: …, where: …}} and {@code {from: …}}: no set of values with labels. */
  static boolean isRequest(Node.Mapping node) {
    return node.entries().stream().allMatch(entry -> REQUEST.contains(entry.key()))
        && node.entries().stream().anyMatch(entry -> WHENCE.contains(entry.key()));
  }

  Options read(Type type, Optional<String> refersTo) {
    Node node = keys.node("options").orElse(null);
    if (node == null) {
      if (type == Type.CHOICE || type == Type.CHOICES) {
        keys.missing("A choice needs `options`: [leisure, trade].");
      }
      return Options.NONE;
    }
    if (type == Type.RECORD) {
      return records(node, refersTo);
    }
    if (node instanceof Node.Mapping mapping && isRequest(mapping)) {
      Section request = keys.section("options").orElseThrow();
      return request.has("from") ? source(request, type) : list(request);
    }
    Map<String, Choice> choices = new LinkedHashMap<>();
    switch (node) {
      case Node.Sequence sequence -> sequence.items().forEach(item -> option(item, item, choices));
      case Node.Mapping mapping ->
          mapping
              .entries()
              .forEach(
                  entry ->
                      option(
                          new Node.Scalar(entry.place(), entry.key(), Node.Scalar.ScalarType.TEXT),
                          entry.value(),
                          choices));
      case Node.Scalar scalar ->
          keys.wrongType("options", scalar, "a list, or a set of values with their labels");
    }
    if (node instanceof Node.Sequence(_, var items) && items.isEmpty()
        || node instanceof Node.Mapping(_, var entries) && entries.isEmpty()) {
      keys.bad("options", "bad-value", "A choice needs at least one option.");
    }
    return new Options(List.copyOf(choices.values()), Optional.empty(), Optional.empty());
  }

  private Options source(Section request, Type type) {
    request.allow(FormKeys.OPTIONS_FROM);
    if (type != Type.CHOICE) {
      request.bad(
          "from", "bad-value", "Options `from` a table are those of a field of type choice.");
      return Options.NONE;
    }
    for (String key : List.of("value", "label")) {
      if (!request.has(key)) {
        request.missing(
            "Options from a table name two columns: {from: shop.genres, value: id, label: name}.");
        return Options.NONE;
      }
    }
    SourceColumnReader columns = new SourceColumnReader(request, registry);
    Optional<SourceColumn> value = columns.table("from", "value");
    String label = request.text("label").orElse("");
    String sort = request.text("sort").orElse(label);
    Optional<Expression> where =
        new Expressions(request, errors, new SourceNames(names)).of("where", condition());
    if (value.isEmpty()) {
      return Options.NONE;
    }
    List<String> marks =
        where.map(Expression::reads).orElse(List.of()).stream()
            .filter(read -> read.up() == 0)
            .map(read -> read.names().getFirst())
            .distinct()
            .toList();
    boolean right = columns.isThere("label", value.get().beside(label));
    right &= columns.isThere(request.has("sort") ? "sort" : "label", value.get().beside(sort));
    for (String mark : marks) {
      // A field of the form, where there is no such column.
      right &= names.find(mark).isPresent() || columns.isThere("where", value.get().beside(mark));
    }
    return right
        ? Options.of(new SourceOptions(value.get(), label, sort, marks), where)
        : Options.NONE;
  }

  private Options list(Section request) {
    request.allow("Options of a list", List.of("list", "where"));
    if (!request.has("list")) {
      request.missing("Options with `where` name their list: {list: services, where: …}.");
      return Options.NONE;
    }
    String name = request.text("list").orElse("");
    ListFile list = registry.list(name).orElse(null);
    if (list == null) {
      request.unpublished("list", "list", name, registry.shared().lists().keySet());
      return Options.NONE;
    }
    return new Options(
        list.choices(),
        Optional.of(name),
        new Expressions(request, errors, list.names(names)).of("where", condition()));
  }

  private static ExpressionType condition() {
    return ExpressionType.of(ExpressionType.Base.BOOLEAN);
  }

  private Options records(Node node, Optional<String> refersTo) {
    Section request = Section.of(node, keys.pointer("options"), "`options`", errors).orElse(null);
    if (request == null) {
      return Options.NONE;
    }
    request.allow("`options` of a reference", List.of("where"));
    Optional<Names> inside = refersTo.flatMap(form -> behind(form));
    // Without the other form, names cannot be told from each other; its service will read them.
    return inside
        .map(
            other ->
                new Options(
                    List.of(),
                    Optional.empty(),
                    new Expressions(request, errors, new NestedNames(other, names))
                        .of("where", condition())))
        .orElse(Options.NONE);
  }

  private Optional<Names> behind(String form) {
    return names instanceof SymbolTable symbols
        ? symbols.behind(form)
        : FieldNames.ofForm(form, registry);
  }

  private void option(Node value, Node label, Map<String, Choice> choices) {
    Optional<String> text = Section.textOf(value).filter(it -> !it.isBlank());
    Optional<String> words = Section.textOf(label);
    if (text.isEmpty() || words.isEmpty()) {
      Node wrong = text.isEmpty() ? value : label;
      errors.add(
          wrong.place(),
          keys.pointer("options"),
          "wrong-type",
          "Option values and labels are texts: quote numbers and true or false, as in \"1\".");
    } else if (isRight(text.get(), value.place(), keys.pointer("options"), errors)
        && choices.putIfAbsent(text.get(), new Choice(text.get(), words.get())) != null) {
      twice(text.get(), value.place(), keys.pointer("options"), errors);
    }
  }

  static boolean isRight(String text, Place place, String pointer, Errors errors) {
    boolean right = text.equals(Tidy.trim(Tidy.standard(text)));
    if (!right) {
      errors.add(
          place,
          pointer,
          "bad-value",
          "An option has no white space around it, and is written in NFC.");
    }
    return right;
  }

  static void twice(String text, Place place, String pointer, Errors errors) {
    errors.add(place, pointer, "duplicate", "Duplicate option \"" + Wellformed.of(text) + "\".");
  }
}
