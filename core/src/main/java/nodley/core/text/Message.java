package nodley.core.text;

import com.ibm.icu.text.MessagePattern;
import com.ibm.icu.text.MessagePattern.ArgType;
import com.ibm.icu.text.MessagePattern.Part;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/**
 * A sentence in ICU MessageFormat: plain arguments, {@code plural}, {@code selectordinal} and
 * {@code select}. Arguments go in as display text in standard form ({@code 61.5}, 2027-03-01), so a
 * number or date style has no place in one.
 */
public final class Message {

  /** Each plural or select in another takes two. */
  private static final int MAX_DEPTH = 20;

  private final String source;
  private final List<Piece> pieces;

  /** What a message is made of. */
  private sealed interface Piece {}

  private record Literal(String text) implements Piece {}

  private record Argument(String name) implements Piece {}

  /** Variants by plural category, or by exact number ({@code =1}). */
  private record Plural(String name, boolean ordinal, Map<String, List<Piece>> variants)
      implements Piece {}

  private record Select(String name, Map<String, List<Piece>> variants) implements Piece {}

  /** What fills a message. */
  public interface Arguments {
    /** The display text of an argument. */
    String text(String name);

    /** Its value, by which variants are chosen. */
    Value value(String name);
  }

  private Message(String source, List<Piece> pieces) {
    this.source = source;
    this.pieces = pieces;
  }

  /**
   * Reads a message.
   *
   * @throws BadMessage if it is not MessageFormat, or uses a feature that is not supported
   */
  public static Message of(String source) throws BadMessage {
    if (depth(source) > MAX_DEPTH) {
      throw new BadMessage("its braces are more than " + MAX_DEPTH + " deep in each other");
    }
    MessagePattern pattern;
    try {
      pattern = new MessagePattern(source);
    } catch (IllegalArgumentException | IndexOutOfBoundsException e) {
      throw new BadMessage(readable(e));
    }
    return new Message(source, new Reader(pattern, source).message(0, "").pieces());
  }

  /** How deep braces are in each other; those in quotes are counted too. */
  private static int depth(String source) {
    int depth = 0;
    int deepest = 0;
    for (int i = 0; i < source.length(); i++) {
      char c = source.charAt(i);
      depth += c == '{' ? 1 : c == '}' ? -1 : 0;
      deepest = Math.max(deepest, depth);
    }
    return deepest;
  }

  /** A message that is known to be right. */
  public static Message own(String source) {
    try {
      return of(source);
    } catch (BadMessage e) {
      throw new IllegalStateException(source, e);
    }
  }

  private static String readable(RuntimeException e) {
    String reason = String.valueOf(e.getMessage());
    int near = reason.indexOf(" at pattern index");
    if (reason.startsWith("Unmatched")) {
      return "a { has no matching }, or a } no {"
          + (near < 0 ? "" : ", near character " + digits(reason));
    }
    if (reason.startsWith("Missing 'other'")) {
      return "a plural or select needs an `other` variant";
    }
    return "it is not ICU MessageFormat: " + reason.lines().findFirst().orElse("");
  }

  private static String digits(String reason) {
    return reason.replaceFirst("(?s).*?at pattern index ([0-9]+).*", "$1");
  }

  /** Walks over ICU's parts of a message. */
  private record Reader(MessagePattern pattern, String source) {

    record Run(List<Piece> pieces, int next) {}

    /** Reads from a MSG_START to its MSG_LIMIT; {@code number} is what # stands for. */
    Run message(int start, String number) throws BadMessage {
      List<Piece> pieces = new ArrayList<>();
      int from = pattern.getPart(start).getLimit();
      for (int i = start + 1; ; i++) {
        Part part = pattern.getPart(i);
        text(source.substring(from, part.getIndex()), pieces);
        from = part.getLimit();
        switch (part.getType()) {
          case MSG_LIMIT -> {
            return new Run(List.copyOf(pieces), i + 1);
          }
          case ARG_START -> {
            int limit = pattern.getLimitPartIndex(i);
            pieces.add(argument(i, part.getArgType()));
            i = limit;
            from = pattern.getPart(limit).getLimit();
          }
          case REPLACE_NUMBER -> pieces.add(new Argument(number));
          default -> {
            // SKIP_SYNTAX is a quote, and left out; INSERT_CHAR is for those who write patterns.
          }
        }
      }
    }

    private static void text(String text, List<Piece> pieces) {
      if (text.isEmpty()) {
        return;
      }
      if (!pieces.isEmpty() && pieces.getLast() instanceof Literal(String before)) {
        pieces.set(pieces.size() - 1, new Literal(before + text));
      } else {
        pieces.add(new Literal(text));
      }
    }

    private Piece argument(int start, ArgType type) throws BadMessage {
      String name = pattern.getSubstring(pattern.getPart(start + 1));
      return switch (type) {
        case NONE -> new Argument(name);
        case PLURAL -> new Plural(name, false, variants(start + 2, name));
        case SELECTORDINAL -> new Plural(name, true, variants(start + 2, name));
        case SELECT -> new Select(name, variants(start + 2, ""));
        case SIMPLE, CHOICE ->
            throw new BadMessage(
                "{"
                    + name
                    + "} has a style; values go in as they are, so only plural, selectordinal and"
                    + " select have a place here");
      };
    }

    private Map<String, List<Piece>> variants(int first, String number) throws BadMessage {
      Map<String, List<Piece>> variants = new LinkedHashMap<>();
      int i = first;
      if (pattern.getPart(i).getType().hasNumericValue()) {
        throw new BadMessage("a plural has no offset here");
      }
      while (pattern.getPart(i).getType() != Part.Type.ARG_LIMIT) {
        String selector = pattern.getSubstring(pattern.getPart(i++));
        if (pattern.getPart(i).getType().hasNumericValue()) {
          i++; // the number of "=1" stands in its selector already
        }
        Run run = message(i, number);
        variants.put(selector, run.pieces());
        i = run.next();
      }
      return variants;
    }
  }

  /** The names of all arguments. */
  public Set<String> names() {
    Set<String> names = new LinkedHashSet<>();
    names(pieces, names);
    return names;
  }

  private static void names(List<Piece> pieces, Set<String> names) {
    for (Piece piece : pieces) {
      switch (piece) {
        case Literal _ -> {}
        case Argument(String name) -> names.add(name);
        case Plural(String name, boolean _, var variants) -> {
          names.add(name);
          variants.values().forEach(inner -> names(inner, names));
        }
        case Select(String name, var variants) -> {
          names.add(name);
          variants.values().forEach(inner -> names(inner, names));
        }
      }
    }
  }

  /** Fills it in, in one pass: an inserted brace stays a brace. */
  public String fill(Arguments arguments, Locale language) {
    var out = new StringBuilder();
    fill(pieces, arguments, language, out);
    return out.toString();
  }

  private static void fill(
      List<Piece> pieces, Arguments arguments, Locale language, StringBuilder out) {
    for (Piece piece : pieces) {
      switch (piece) {
        case Literal(String text) -> out.append(text);
        case Argument(String name) -> out.append(arguments.text(name));
        case Plural(String name, boolean ordinal, var variants) ->
            fill(
                chosen(arguments.value(name), ordinal, variants, language),
                arguments,
                language,
                out);
        case Select(String name, var variants) ->
            fill(
                variants.getOrDefault(arguments.value(name).shown(), variants.get("other")),
                arguments,
                language,
                out);
      }
    }
  }

  private static List<Piece> chosen(
      Value value, boolean ordinal, Map<String, List<Piece>> variants, Locale language) {
    if (!(value instanceof Value.Number(BigDecimal number))) {
      return variants.get("other");
    }
    List<Piece> exact = variants.get("=" + Numbers.plain(number));
    if (exact != null) {
      return exact;
    }
    return variants.getOrDefault(
        Plurals.category(number, language, ordinal), variants.get("other"));
  }

  /** A text as it stands in a sentence, where it means itself whatever characters it has. */
  public static String quoted(String text) {
    return text.replace("'", "''").replaceAll("[{}#|<]+", "'$0'");
  }

  /** The text as it was written. */
  public String source() {
    return source;
  }

  /**
   * For the page: text with {@code {names}} where that is all; else a list of texts, arguments
   * {@code ["name"]}, and variants {@code ["select", name, {yes: [...]}]} or {@code ["plural",
   * name, {one: [...]}, rules]}, with the rules of its language.
   */
  public Object toJson(Locale language) {
    boolean simple =
        pieces.stream()
            .allMatch(
                piece ->
                    piece instanceof Argument
                        || piece instanceof Literal(String text) && text.indexOf('{') < 0);
    if (!simple) {
      return json(pieces, language);
    }
    var text = new StringBuilder();
    for (Piece piece : pieces) {
      text.append(piece instanceof Literal(String it) ? it : "{" + ((Argument) piece).name() + "}");
    }
    return text.toString();
  }

  private static List<Object> json(List<Piece> pieces, Locale language) {
    List<Object> list = new ArrayList<>();
    for (Piece piece : pieces) {
      list.add(
          switch (piece) {
            case Literal(String text) -> text;
            case Argument(String name) -> List.of(name);
            case Plural(String name, boolean ordinal, var variants) ->
                List.of(
                    "plural",
                    name,
                    json(variants, language),
                    Plurals.toJson(variants.keySet(), language, ordinal));
            case Select(String name, var variants) ->
                List.of("select", name, json(variants, language));
          });
    }
    return list;
  }

  private static Map<String, Object> json(Map<String, List<Piece>> variants, Locale language) {
    Map<String, Object> json = new LinkedHashMap<>();
    variants.forEach((selector, inner) -> json.put(selector, json(inner, language)));
    return json;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Message message && message.source.equals(source);
  }

  @Override
  public int hashCode() {
    return source.hashCode();
  }

  @Override
  public String toString() {
    return source;
  }
}
