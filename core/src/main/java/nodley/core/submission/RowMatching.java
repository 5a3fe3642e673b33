package nodley.core.submission;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;
import nodley.core.value.Values;

/**
 * Decides which stored row each submitted row of an edit is, so that values which the sender does
 * not have (secrets, retired fields) stay with it. A row that names its identity in {@code _row} is
 * that one. Of the others, equal rows are matched first, in their order; then rows that have more
 * than half of their values in common. The rest are new rows: a secret must never be given to a row
 * by its position alone. Quadratic in the number of rows, up to a limit.
 */
final class RowMatching {

  /** How many pairs of rows are compared by their values; beyond, only equal rows match. */
  private static final int MOST_PAIRS = 40_000;

  private final Values[] matches;
  private final List<Values> kept;
  private final boolean[] used;

  private RowMatching(int sent, List<Values> kept) {
    this.matches = new Values[sent];
    this.kept = kept;
    this.used = new boolean[kept.size()];
  }

  /**
   * Returns the stored row of each submitted row; {@link Values#NONE} for a new one.
   *
   * @param sent the rows that were sent, without blank ones
   */
  static Values[] of(Field field, List<Map<String, Raw>> sent, List<Values> kept) {
    RowMatching matching = new RowMatching(sent.size(), kept);
    if (!kept.isEmpty()) {
      matching.byNumber(sent);
      matching.byContent(field.fields(), sent);
    }
    for (int i = 0; i < matching.matches.length; i++) {
      matching.matches[i] = matching.matches[i] == null ? Values.NONE : matching.matches[i];
    }
    return matching.matches;
  }

  private void match(int sent, int row) {
    matches[sent] = kept.get(row);
    used[row] = true;
  }

  private void byNumber(List<Map<String, Raw>> sent) {
    Map<String, Integer> places = new HashMap<>();
    for (int row = 0; row < kept.size(); row++) {
      places.put(Long.toString(kept.get(row).row()), row);
    }
    for (int i = 0; i < matches.length; i++) {
      Raw number = sent.get(i).get(Values.ROW);
      Integer row = number == null ? null : places.get(text(number));
      if (row != null && !used[row]) {
        match(i, row);
      } else if (number != null && !number.isBlank()) {
        // The row that it names is gone, or named twice: it is a new one, whatever its values.
        matches[i] = Values.NONE;
      }
    }
  }

  private void byContent(Fields fields, List<Map<String, Raw>> sent) {
    List<Map<String, String>> before =
        kept.stream().map(row -> told(fields, Raw.of(fields.known(row)).members())).toList();
    List<Map<String, String>> now = sent.stream().map(row -> told(fields, row)).toList();
    Map<Map<String, String>, Deque<Integer>> alike = new HashMap<>();
    for (int row = 0; row < used.length; row++) {
      if (!used[row]) {
        alike.computeIfAbsent(before.get(row), _ -> new ArrayDeque<>()).add(row);
      }
    }
    for (int i = 0; i < matches.length; i++) {
      Deque<Integer> rows = matches[i] == null ? alike.get(now.get(i)) : null;
      if (rows != null && !rows.isEmpty()) {
        match(i, rows.remove());
      }
    }
    if ((long) matches.length * used.length <= MOST_PAIRS) {
      byMostInCommon(before, now);
    }
  }

  private void byMostInCommon(List<Map<String, String>> before, List<Map<String, String>> now) {
    for (int i = 0; i < matches.length; i++) {
      if (matches[i] != null) {
        continue;
      }
      int best = -1;
      int most = 0;
      for (int row = 0; row < used.length; row++) {
        int common = used[row] ? 0 : common(before.get(row), now.get(i));
        boolean enough = 2 * common > Math.max(before.get(row).size(), now.get(i).size());
        if (enough && common > most) {
          best = row;
          most = common;
        }
      }
      if (best >= 0) {
        match(i, best);
      }
    }
  }

  private static int common(Map<String, String> a, Map<String, String> b) {
    int common = 0;
    for (Map.Entry<String, String> entry : a.entrySet()) {
      common += entry.getValue().equals(b.get(entry.getKey())) ? 1 : 0;
    }
    return common;
  }

  /** Returns the values of a row that both sender and store can have, in the same notation. */
  private static Map<String, String> told(Fields fields, Map<String, Raw> row) {
    Map<String, String> told = new TreeMap<>();
    row.forEach(
        (name, raw) -> {
          int position = fields.position(name);
          String text = text(raw);
          if (position >= 0 && !fields.at(position).isSecret() && !text.isEmpty()) {
            told.put(name, text);
          }
        });
    return told;
  }

  private static String text(Raw raw) {
    return switch (raw) {
      case Raw.Null _ -> "";
      case Raw.Text(String text) -> text;
      case Raw.Number(var number) -> Numbers.plain(Numbers.standard(number));
      case Raw.Bool(boolean yes) -> yes ? "true" : "";
      case Raw.Many(List<Raw> items) ->
          items.stream()
              .map(RowMatching::text)
              .filter(it -> !it.isEmpty())
              .collect(Collectors.joining("\n"));
      case Raw.Members(Map<String, Raw> members) ->
          members.entrySet().stream()
              .filter(it -> !it.getKey().equals(Values.ROW))
              .sorted(Map.Entry.comparingByKey())
              .map(it -> text(it.getValue()))
              .filter(it -> !it.isEmpty())
              .collect(Collectors.joining("\n"));
    };
  }
}
