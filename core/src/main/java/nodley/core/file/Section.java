package nodley.core.file;

import java.math.BigDecimal;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import nodley.core.name.Pointer;
import nodley.core.name.Synonyms;
import nodley.core.value.Numbers;
import nodley.core.value.Wellformed;

/**
 * A mapping of a form file. Values are read by key and type; unknown keys are errors, with a
 * suggestion. Nothing here throws: a value of another type adds an error at its place and is read
 * as if it were missing, so that all errors of a file are told at once. For one reading and one
 * thread; a look-up by key takes constant time.
 */
final class Section {

  private static final String TORN =
      " Is there an unquoted comma inside { } (a YAML flow mapping)? Quote the whole text: help:"
          + " \"Digits, spaces (or none)\".";

  private final Map<String, Node.Entry> entries = new LinkedHashMap<>();
  private final Place place;
  private final String pointer;
  private final Errors errors;

  private Section(Node.Mapping node, String pointer, Errors errors) {
    this.place = node.place();
    this.pointer = pointer;
    this.errors = errors;
    for (Node.Entry entry : node.entries()) {
      Node.Entry earlier = entries.putIfAbsent(entry.key(), entry);
      if (earlier != null) {
        errors.add(
            entry.place(),
            pointer(entry.key()),
            "duplicate",
            "Duplicate key `"
                + entry.key()
                + "`: it is on line "
                + earlier.place().line()
                + " already.");
      }
    }
  }

  /** The section a node is, or nothing and an error if it is no set of keys. */
  static Optional<Section> of(Node node, String pointer, String what, Errors errors) {
    if (node instanceof Node.Mapping mapping) {
      return Optional.of(new Section(mapping, pointer, errors));
    }
    errors.add(
        node.place(), pointer, "wrong-type", what + " is a set of keys, not " + node.kind() + ".");
    return Optional.empty();
  }

  /** Where it begins. */
  Place place() {
    return place;
  }

  /** Returns its keys and values, in the order of the file; of a repeated key the first. */
  Collection<Node.Entry> entries() {
    return entries.values();
  }

  /** Where a key stands. */
  Optional<Place> keyPlace(String key) {
    return Optional.ofNullable(entries.get(key)).map(Node.Entry::place);
  }

  /** Tells whether it has a key, whatever the value. */
  boolean has(String key) {
    return entries.containsKey(key);
  }

  /** Refuses every key that the table does not have, and names the one that was meant. */
  void allow(KeySet keys) {
    allow(keys.what(), keys.names());
  }

  /** Refuses every key that is not among the known, and names the one that was meant. */
  void allow(String what, Collection<String> known) {
    allow(what, known, _ -> Optional.empty());
  }

  /** Refuses every key that is not among the known; {@code hint} may say why a key is not. */
  void allow(String what, Collection<String> known, Function<String, Optional<String>> hint) {
    for (Node.Entry entry : entries.values()) {
      if (known.contains(entry.key())) {
        continue;
      }
      Optional<String> near = Synonyms.by(entry.key(), known);
      String detail =
          hint.apply(entry.key())
              .orElseGet(
                  () ->
                      what
                          + " has no key `"
                          + Wellformed.of(entry.key())
                          + "`."
                          + near.map(
                                  name ->
                                      " Did you mean `" + name + "`?" + spans(entry.key(), known))
                              .orElse(isTorn(entry.key()) ? TORN : ""));
      errors.add(entry.place(), pointer(entry.key()), "unknown-key", detail, near);
    }
  }

  /** Limits are one key here, not two. */
  private static String spans(String key, Collection<String> known) {
    String lower = key.toLowerCase(Locale.ROOT);
    boolean limit = lower.startsWith("min") || lower.startsWith("max");
    return limit && known.contains("range")
        ? " Limits are spans: `range: 18..` of a number or a date, `length: 2..60` of a text."
        : "";
  }

  /** True of what comes after a comma in a text without quotes between braces. */
  private static boolean isTorn(String key) {
    return key.endsWith(")") || key.endsWith("]") || key.endsWith("\"");
  }

  /** Returns the value of a key, of whatever type; empty if the key is missing. */
  Optional<Node> node(String key) {
    return Optional.ofNullable(entries.get(key)).map(Node.Entry::value);
  }

  /** Returns a value that is a mapping itself. */
  Optional<Section> section(String key) {
    return node(key).flatMap(node -> of(node, pointer(key), "`" + key + "`", errors));
  }

  /** A text; a number or a word such as true counts as the text that is written. */
  Optional<String> text(String key) {
    return node(key)
        .flatMap(
            node -> {
              Optional<String> text = textOf(node);
              if (text.isEmpty()) {
                wrongType(key, node, "text");
              }
              return text;
            });
  }

  static Optional<String> textOf(Node node) {
    return node instanceof Node.Scalar scalar && scalar.type() != Node.Scalar.ScalarType.NULL
        ? Optional.of(scalar.text())
        : Optional.empty();
  }

  /** Returns true or false; `yes` and `no` are texts, as in YAML 1.2. */
  Optional<Boolean> bool(String key) {
    return node(key)
        .flatMap(
            node -> {
              if (node instanceof Node.Scalar scalar
                  && scalar.type() == Node.Scalar.ScalarType.BOOLEAN) {
                return Optional.of(scalar.text().equalsIgnoreCase("true"));
              }
              wrongType(key, node, "true or false");
              return Optional.empty();
            });
  }

  /** Returns a number, exactly as it is written. */
  Optional<BigDecimal> number(String key) {
    return node(key)
        .flatMap(
            node -> {
              Optional<BigDecimal> number = textOf(node).flatMap(Numbers::read);
              if (number.isEmpty()) {
                wrongType(key, node, "a number");
              }
              return number;
            });
  }

  /** Returns the items of a list. */
  Optional<List<Node>> items(String key) {
    return node(key)
        .flatMap(
            node -> {
              if (node instanceof Node.Sequence sequence) {
                return Optional.of(sequence.items());
              }
              wrongType(key, node, "a list");
              return Optional.empty();
            });
  }

  /** One of a few words. */
  Optional<String> word(String key, String... words) {
    return text(key)
        .filter(
            text -> {
              List<String> known = Arrays.asList(words);
              if (known.contains(text)) {
                return true;
              }
              Optional<String> near = Synonyms.by(text, known);
              bad(
                  key,
                  "bad-value",
                  "`"
                      + key
                      + "` is "
                      + String.join(", ", known.subList(0, known.size() - 1))
                      + (known.size() > 1 ? " or " : "")
                      + known.getLast()
                      + ", not \""
                      + Wellformed.of(text)
                      + "\"."
                      + near.map(word -> " Did you mean `" + word + "`?").orElse(""),
                  near);
              return false;
            });
  }

  /** Adds the error that a value is of another type than wanted. */
  void wrongType(String key, Node node, String wanted) {
    errors.add(
        node.place(),
        pointer(key),
        "wrong-type",
        "`" + key + "` is " + wanted + ", not " + node.kind() + ".");
  }

  /** An error at the value of a key. */
  void bad(String key, String code, String detail) {
    bad(key, code, detail, Optional.empty());
  }

  void bad(String key, String code, String detail, Optional<String> suggestion) {
    bad(key, entries.get(key).value(), code, detail, suggestion);
  }

  /** The same at a part of the value, such as an item of a list. */
  void bad(String key, Node part, String code, String detail, Optional<String> suggestion) {
    errors.add(part.place(), pointer(key), code, detail, suggestion);
  }

  /** Notes that the value of a key is an unknown name. */
  void unknown(String key, String what, String name, Collection<String> known) {
    errors.unknown(entries.get(key).value().place(), pointer(key), what, name, known, "");
  }

  /** The same of something that is published by itself, such as a list. */
  void unpublished(String key, String what, String name, Collection<String> known) {
    Place place = entries.get(key).value().place();
    errors.unknown(place, pointer(key), what, name, known, " Publish it first.");
  }

  /** A name that the settings of the service do not have. */
  void unset(String key, String what, String name, Collection<String> known) {
    Place place = entries.get(key).value().place();
    errors.unknown(
        place, pointer(key), what, name, known, " The settings of the service have them.");
  }

  /** Adds the error that a key is missing, at the beginning of the mapping. */
  void missing(String detail) {
    errors.add(place, pointer, "missing-key", detail);
  }

  /** Returns the JSON Pointer of a key. */
  String pointer(String key) {
    return Pointer.in(pointer, key);
  }
}
