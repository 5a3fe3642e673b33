package nodley.core.file;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.submission.Codes;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;

/**
 * Named inputs for a form, with what is expected of them: {@code NAME.cases.yaml}.
 *
 * <pre>
 * now: 2027-03-01T12:00:00Z
 * cases:
 *   - name: a weekend
 *     in: { arrives: 2027-03-05, departs: 2027-03-07 }
 *     verdict: accepted
 *     values: { nights: 2 }
 *   - name: backwards
 *     in: { arrives: 2027-03-05, departs: 2027-03-04 }
 *     errors: { departs: rule }
 * </pre>
 *
 * @param now the moment of judging; left out, that of the run
 */
public record CaseFile(Optional<Instant> now, List<Case> cases) {

  /**
   * One input.
   *
   * @param line where it stands in its file, from 1
   * @param before what the edited record keeps; without it, the input is an add
   * @param verdict {@code accepted} or {@code refused}; follows from the errors where it is left
   *     out
   * @param errors all errors, by their place ({@code crew/0/name}), with their codes
   * @param values those that are named must come out so; null is for blank
   */
  public record Case(
      String name,
      int line,
      Map<String, Raw> in,
      Optional<Map<String, Raw>> before,
      String verdict,
      Optional<Map<String, String>> errors,
      Map<String, Raw> values) {}

  /**
   * Reads a case file.
   *
   * @throws FormFileException with all that is wrong
   */
  public static CaseFile read(String text, Format format) throws FormFileException {
    var errors = new Errors();
    try {
      Node tree = format == Format.JSON ? JsonTree.read(text) : YamlTree.read(text, errors);
      Section file = Section.of(tree, "#", "A case file", errors).orElse(null);
      if (file == null) {
        throw errors.thrown();
      }
      file.allow("A case file", List.of("now", "cases"));
      if (!file.has("cases")) {
        file.missing("A case file has `cases`.");
      }
      List<Case> cases = new ArrayList<>();
      int index = 0;
      for (Node item : file.items("cases").orElse(List.of())) {
        Section.of(item, file.pointer("cases") + "/" + index++, "A case", errors)
            .flatMap(section -> one(section, errors))
            .ifPresent(cases::add);
      }
      Optional<Instant> now = now(file);
      if (!errors.isEmpty()) {
        throw errors.thrown();
      }
      return new CaseFile(now, List.copyOf(cases));
    } catch (Unparsable e) {
      errors.add(e.place(), "#", "unreadable", e.getMessage());
      throw errors.thrown();
    }
  }

  private static Optional<Instant> now(Section file) {
    try {
      return file.text("now").map(Instant::parse);
    } catch (DateTimeParseException e) {
      file.bad("now", "bad-value", "`now` is a moment, such as 2027-03-01T12:00:00Z.");
      return Optional.empty();
    }
  }

  private static Optional<Case> one(Section section, Errors errors) {
    section.allow("A case", List.of("name", "in", "before", "verdict", "errors", "values"));
    if (!section.has("name") || !section.has("in")) {
      section.missing("A case has a `name`, and what goes `in`.");
      return Optional.empty();
    }
    if (!section.has("verdict") && !section.has("errors")) {
      section.missing("A case says what is expected: `verdict: accepted`, or its `errors`.");
      return Optional.empty();
    }
    Optional<Map<String, String>> expected =
        section
            .section("errors")
            .map(
                all -> {
                  Map<String, String> codes = new LinkedHashMap<>();
                  for (Node.Entry entry : all.entries()) {
                    all.word(entry.key(), Codes.ALL.toArray(String[]::new))
                        .ifPresent(code -> codes.put(entry.key(), code));
                  }
                  return codes;
                });
    String implied = expected.filter(it -> !it.isEmpty()).isPresent() ? "refused" : "accepted";
    return Optional.of(
        new Case(
            section.text("name").orElse(""),
            section.place().line(),
            members(section, "in", errors),
            section.has("before")
                ? Optional.of(members(section, "before", errors))
                : Optional.empty(),
            section.word("verdict", "accepted", "refused").orElse(implied),
            expected,
            section.has("values") ? members(section, "values", errors) : Map.of()));
  }

  private static Map<String, Raw> members(Section section, String key, Errors errors) {
    Node node = section.node(key).orElseThrow();
    if (node instanceof Node.Mapping
        && raw(node) instanceof Raw.Members(Map<String, Raw> members)) {
      return members;
    }
    errors.add(
        node.place(),
        section.pointer(key),
        "wrong-type",
        "`" + key + "` is a set of values, not " + node.kind() + ".");
    return Map.of();
  }

  private static Raw raw(Node node) {
    return switch (node) {
      case Node.Mapping(Place _, List<Node.Entry> entries) -> {
        Map<String, Raw> members = new LinkedHashMap<>();
        entries.forEach(entry -> members.put(entry.key(), raw(entry.value())));
        yield new Raw.Members(members);
      }
      case Node.Sequence(Place _, List<Node> items) ->
          new Raw.Many(items.stream().map(CaseFile::raw).toList());
      case Node.Scalar scalar ->
          switch (scalar.type()) {
            case NULL -> new Raw.Null();
            case BOOLEAN -> new Raw.Bool(scalar.text().equalsIgnoreCase("true"));
            case NUMBER ->
                Numbers.read(scalar.text())
                    .<Raw>map((BigDecimal number) -> new Raw.Number(number))
                    .orElse(new Raw.Text(scalar.text()));
            case TEXT -> new Raw.Text(scalar.text());
          };
    };
  }
}
