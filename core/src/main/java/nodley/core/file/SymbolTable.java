package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.Names;
import nodley.core.form.Choice;
import nodley.core.form.Control;
import nodley.core.form.Type;
import nodley.core.name.Synonyms;

/**
 * Name, type and position of each field of one scope (form, group, rows), linked to the scope
 * around it. Built before fields are read, so that an expression may name a field declared later.
 * Reports nothing: malformed entries are skipped, the readers report them.
 */
final class SymbolTable implements Names {

  /** The words of all types. */
  private static final List<String> WORDS = Arrays.stream(Type.values()).map(Type::word).toList();

  private final Map<String, Found> found = new LinkedHashMap<>();
  private final Map<String, Type> types = new LinkedHashMap<>();
  private final Optional<Names> outer;
  private final FormRegistry registry;
  private final String form;
  private final SymbolTable root;

  private final boolean rows;

  private SymbolTable(
      Optional<Names> outer, SymbolTable root, boolean rows, String form, FormRegistry registry) {
    this.outer = outer;
    this.rows = rows;
    this.root = root == null ? this : root;
    this.form = form;
    this.registry = registry;
  }

  static SymbolTable of(String form, Node fields, FormRegistry registry) {
    var symbols = new SymbolTable(Optional.empty(), null, false, form, registry);
    symbols.fill(fields);
    return symbols;
  }

  private void fill(Node fields) {
    if (fields instanceof Node.Mapping(Place _, List<Node.Entry> entries)) {
      for (Node.Entry entry : entries) {
        if (entry.value() instanceof Node.Mapping keys) {
          type(keys).ifPresent(type -> add(entry.key(), type, keys));
        }
      }
    }
  }

  private static Optional<Type> type(Node.Mapping keys) {
    // One that is written wrongly is told once, by its own reader; expressions take what was meant.
    Optional<Type> written =
        text(keys, "type")
            .map(word -> Type.of(word).or(() -> Synonyms.by(word, WORDS).flatMap(Type::of)))
            .map(type -> type.orElse(Type.TEXT));
    return written.isEmpty() && key(keys, "use").isPresent() ? Optional.of(Type.GROUP) : written;
  }

  private static Optional<Node> key(Node.Mapping keys, String name) {
    return keys.entries().stream()
        .filter(entry -> entry.key().equals(name))
        .map(Node.Entry::value)
        .findFirst();
  }

  private static Optional<String> text(Node.Mapping keys, String name) {
    return key(keys, name).flatMap(Section::textOf);
  }

  private void add(String name, Type type, Node.Mapping keys) {
    Optional<Names> inside = Optional.empty();
    if (!type.isScalar()) {
      var nested =
          new SymbolTable(Optional.of(this), root, rows || type == Type.ROWS, form, registry);
      nested.fill(fieldsOf(keys, registry));
      inside = Optional.of(nested);
    }
    Optional<String> refersTo = type == Type.RECORD ? text(keys, "form") : Optional.empty();
    if (refersTo.isPresent()) {
      inside = behind(refersTo.get());
    }
    types.put(name, type);
    found.put(
        name,
        new Found(
            FieldNames.kind(type, options(keys)),
            found.size(),
            inside,
            refersTo,
            type == Type.SECRET,
            text(keys, "control").filter(Control.NONE.word()::equals).isEmpty()
                && key(keys, "see").isEmpty()));
  }

  /** The fields of a group or of rows: their own, or a part's. */
  static Node fieldsOf(Node.Mapping keys, FormRegistry registry) {
    Optional<Node> own = key(keys, "fields");
    return own.or(() -> text(keys, "use").flatMap(registry::part).flatMap(PartFile::fields))
        .orElse(new Node.Mapping(keys.place(), List.of()));
  }

  private Collection<String> options(Node.Mapping keys) {
    List<String> values = new ArrayList<>();
    Node options = key(keys, "options").orElse(null);
    if (options instanceof Node.Sequence(Place _, List<Node> items)) {
      items.forEach(item -> Section.textOf(item).ifPresent(values::add));
    } else if (options instanceof Node.Mapping mapping) {
      Optional<String> list = text(mapping, "list");
      if (OptionsReader.isRequest(mapping)) {
        list.flatMap(registry::list)
            .ifPresent(it -> it.choices().stream().map(Choice::value).forEach(values::add));
      } else {
        mapping.entries().forEach(entry -> values.add(entry.key()));
      }
    }
    return values;
  }

  /** The names behind a reference to a form, this one included; nothing if it is not known. */
  Optional<Names> behind(String other) {
    return other.equals(form) ? Optional.of(root) : FieldNames.ofForm(other, registry);
  }

  /** The type of a field side by side with others. */
  Optional<Type> type(String name) {
    return Optional.ofNullable(types.get(name));
  }

  /** The names inside a group or rows. */
  SymbolTable inside(String name) {
    return (SymbolTable) found.get(name).inside().orElseThrow();
  }

  /** True inside rows, however deep. */
  boolean isInRows() {
    return rows;
  }

  SymbolTable root() {
    return root;
  }

  @Override
  public Optional<Found> find(String name) {
    return Optional.ofNullable(found.get(name));
  }

  @Override
  public Collection<String> all() {
    return found.keySet();
  }

  @Override
  public Optional<Names> outer() {
    return outer;
  }
}
