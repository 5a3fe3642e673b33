package nodley.begin;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a {@code CHECK} of a table says of one column. Databases print the same condition in several
 * ways ({@code x IN ('a')}, {@code x = ANY (ARRAY['a'::text])}), so that it is read as words
 * without brackets, commas and casts.
 */
sealed interface CheckClause {

  /** The column has one of these values. */
  record OneOf(String column, List<String> values) implements CheckClause {}

  /** The column lies between two numbers, both included; an empty end is open. */
  record Between(String column, Optional<String> least, Optional<String> most)
      implements CheckClause {}

  /** The column has so many characters at most. */
  record Length(String column, int most) implements CheckClause {}

  /** A condition that a form file does not say by a key. */
  record Other(String sql) implements CheckClause {}

  /** A literal, a cast, a quoted name, a word or number, an operator. */
  Pattern TOKEN =
      Pattern.compile(
          "'((?:[^']|'')*)'"
              + "|(::\\s*\"?[A-Za-z_][\\w]*\"?(?: varying| precision|(?: without| with) time zone)?"
              + "(?:\\(\\d+(?:,\\d+)?\\))?(?:\\[\\])?)"
              + "|\"([^\"]+)\"|`([^`]+)`"
              + "|(-?[0-9]+(?:\\.[0-9]+)?|[A-Za-z_]\\w*)"
              + "|([<>=!]+|[^\\s(),\\[\\]])");

  Pattern NUMBER = Pattern.compile("-?[0-9]{1,15}(\\.[0-9]{1,15})?");

  /** Of this length on, digits are no length that a field could have. */
  Pattern SHORT = Pattern.compile("[0-9]{1,6}");

  /** Returns what stands inside each {@code CHECK (…)} of a statement that makes a table. */
  static List<String> within(String sql) {
    List<String> clauses = new ArrayList<>();
    Matcher check = Pattern.compile("\\bCHECK\\s*\\(", Pattern.CASE_INSENSITIVE).matcher(sql);
    for (int from = 0; check.find(from); ) {
      int end = closing(sql, check.end());
      clauses.add(sql.substring(check.end(), end));
      from = Math.min(end + 1, sql.length());
    }
    return clauses;
  }

  /** The place of the bracket that closes the one before a place; the end if there is none. */
  private static int closing(String sql, int from) {
    int open = 1;
    boolean quoted = false;
    for (int i = from; i < sql.length(); i++) {
      char c = sql.charAt(i);
      if (c == '\'') {
        quoted = !quoted;
      } else if (!quoted && c == '(') {
        open++;
      } else if (!quoted && c == ')' && --open == 0) {
        return i;
      }
    }
    return sql.length();
  }

  static CheckClause read(String sql) {
    List<String> words = words(sql);
    String shape =
        String.join(
                " ",
                words.stream().map(it -> it.matches("[A-Za-z_]\\w*|[<>=]+") ? it : "?").toList())
            .toLowerCase(Locale.ROOT);
    if (shape.matches("\\S+ in( \\S+)+")) {
      return oneOf(sql, words, 2);
    }
    if (shape.matches("\\S+ = any array( \\S+)+")) {
      return oneOf(sql, words, 4);
    }
    if (shape.matches("\\S+ between \\S+ and \\S+")) {
      return between(sql, words.get(0), words.get(2), words.get(4));
    }
    if (shape.matches("\\S+ >= \\S+ and \\S+ <= \\S+") && words.get(0).equals(words.get(4))) {
      return between(sql, words.get(0), words.get(2), words.get(6));
    }
    if (shape.matches("\\S+ >= \\S+")) {
      return between(sql, words.get(0), words.get(2), "");
    }
    if (shape.matches("\\S+ <= \\S+")) {
      return between(sql, words.get(0), "", words.get(2));
    }
    if (shape.matches("(char_|character_)?length \\S+ <=? \\S+")
        && SHORT.matcher(words.get(3)).matches()) {
      int most = Integer.parseInt(words.get(3)) - (words.get(2).equals("<") ? 1 : 0);
      return new Length(words.get(1), most);
    }
    return new Other(sql.strip());
  }

  private static CheckClause oneOf(String sql, List<String> words, int from) {
    boolean values =
        values(sql) == words.size() - from && words.size() > from && isName(words.getFirst());
    return values
        ? new OneOf(words.getFirst(), words.subList(from, words.size()))
        : new Other(sql.strip());
  }

  private static CheckClause between(String sql, String column, String least, String most) {
    boolean numbers =
        (least.isEmpty() || NUMBER.matcher(least).matches())
            && (most.isEmpty() || NUMBER.matcher(most).matches());
    return numbers && isName(column)
        ? new Between(column, given(least), given(most))
        : new Other(sql.strip());
  }

  private static Optional<String> given(String text) {
    return Optional.of(text).filter(it -> !it.isEmpty());
  }

  private static boolean isName(String word) {
    return !NUMBER.matcher(word).matches();
  }

  /** How many literals and numbers there are. */
  private static long values(String sql) {
    return TOKEN
        .matcher(sql)
        .results()
        .filter(it -> it.group(1) != null || it.group(5) != null && !isName(it.group(5)))
        .count();
  }

  private static List<String> words(String sql) {
    List<String> words = new ArrayList<>();
    Matcher token = TOKEN.matcher(sql);
    while (token.find()) {
      if (token.group(1) != null) {
        words.add(token.group(1).replace("''", "'"));
      } else if (token.group(2) == null) {
        String name = token.group(3) != null ? token.group(3) : token.group(4);
        words.add(name != null ? name : token.group());
      }
    }
    return words;
  }
}
