package nodley.cli;

import java.io.PrintWriter;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/**
 * Prints rows in aligned columns, the first row as their heads; a column of counts or durations is
 * right-aligned. Widths count code points.
 */
final class Table {

  private static final int GAP = 2;

  /** Counts and durations. More digits are an id, which happens to have no letter. */
  private static final Pattern NUMBER = Pattern.compile("[0-9]{1,15}|[0-9.]+ ms|");

  private Table() {}

  static void print(List<List<String>> rows, PrintWriter out) {
    int columns = rows.stream().mapToInt(List::size).max().orElse(0);
    int[] widths = new int[columns];
    boolean[] numbers = new boolean[columns];
    for (int c = 0; c < columns; c++) {
      int column = c;
      widths[c] = rows.stream().mapToInt(row -> width(row.get(column))).max().orElse(0);
      numbers[c] =
          rows.size() > 1
              && rows.stream().skip(1).allMatch(row -> NUMBER.matcher(row.get(column)).matches());
    }
    for (List<String> row : rows) {
      var line = new StringBuilder();
      for (int c = 0; c < columns; c++) {
        String pad = " ".repeat(widths[c] - width(row.get(c)));
        line.append(numbers[c] ? pad + row.get(c) : row.get(c) + pad).append(" ".repeat(GAP));
      }
      out.println(line.toString().stripTrailing());
    }
  }

  /** A list of words with commas between them. */
  static String words(JsonNode list) {
    return list.valueStream().map(JsonNode::asString).collect(Collectors.joining(", "));
  }

  /** A text, or another one in place of an empty one. */
  static String or(String text, String otherwise) {
    return text.isEmpty() ? otherwise : text;
  }

  private static int width(String text) {
    return text.codePointCount(0, text.length());
  }
}
