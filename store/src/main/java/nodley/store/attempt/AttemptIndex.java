package nodley.store.attempt;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Index of the log of attempts by error code and by field, so that rare codes are found without
 * reading the whole log. One row for each attempt and term, written and deleted in the attempt's
 * transaction.
 */
public final class AttemptIndex {

  /** Attempts that are in memory at once where all are indexed. */
  private static final int AT_A_TIME = 1_000;

  private static final JsonMapper JSON = JsonMapper.shared();

  /** Insertions of one row, of two, and so on. */
  private static final List<String> ROWS =
      IntStream.rangeClosed(1, 8)
          .mapToObj(
              rows ->
                  "INSERT INTO nodley_attempt_index (term, form, attempt) VALUES "
                      + String.join(", ", Collections.nCopies(rows, "(?, ?, ?)")))
          .toList();

  private AttemptIndex() {}

  /** What stands for a code of an error, or for a problem. */
  static String code(String code) {
    return "code " + code;
  }

  /**
   * What stands for a field with an error in it.
   *
   * @param path dotted, with or without the places of rows: {@code crew}, {@code crew.name}, {@code
   *     crew.0.name}
   */
  static String field(String path) {
    return "field " + path;
  }

  /** The attempts of a form that have a term, in their order; both are bound, the term first. */
  static final String FROM =
      "nodley_attempt_index i CROSS JOIN nodley_attempts a ON i.term = ? AND i.form = ?"
          + " AND a.number = i.attempt";

  /** What an attempt is ordered by where it is read {@link #FROM} here. */
  static final String ORDER = "i.attempt";

  /** A condition that an attempt has another term; it is bound. */
  static final String HAS =
      "EXISTS (SELECT 1 FROM nodley_attempt_index WHERE term = ? AND form = a.form"
          + " AND attempt = a.number)";

  static void add(Connection on, long number, Attempt attempt) throws SQLException {
    add(on, number, attempt.form(), attempt.problem(), attempt.errors());
  }

  private static void add(Connection on, long number, String form, String problem, String errors)
      throws SQLException {
    List<String> terms = List.copyOf(terms(problem, errors));
    // One statement for a few of them: most attempts have three.
    for (int from = 0; from < terms.size(); from += ROWS.size()) {
      List<String> some = terms.subList(from, Math.min(terms.size(), from + ROWS.size()));
      List<Object> bound = new ArrayList<>();
      for (String term : some) {
        bound.addAll(List.of(term, form, number));
      }
      Sql.run(on, ROWS.get(some.size() - 1), bound.toArray());
    }
  }

  /** Forgets an attempt that is about to go. */
  static void remove(Connection on, long number, String form, String problem, String errors)
      throws SQLException {
    for (String term : terms(problem, errors)) {
      Sql.run(
          on,
          "DELETE FROM nodley_attempt_index WHERE term = ? AND form = ? AND attempt = ?",
          term,
          form,
          number);
    }
  }

  /** Indexes all that there are, in data of an earlier Nodley. */
  public static void addAll(Connection on) throws SQLException {
    long after = -1;
    while (true) {
      List<Long> numbers = new ArrayList<>();
      Sql.list(
          on,
          row -> {
            long number = row.getLong(1);
            numbers.add(number);
            add(on, number, row.getString(2), row.getString(3), row.getString(4));
            return number;
          },
          "SELECT number, form, problem, errors FROM nodley_attempts WHERE number > ?"
              + " ORDER BY number LIMIT ?",
          after,
          AT_A_TIME);
      if (numbers.isEmpty()) {
        return;
      }
      after = numbers.getLast();
    }
  }

  private static Set<String> terms(String problem, String errors) {
    Set<String> terms = new LinkedHashSet<>();
    if (!problem.isEmpty()) {
      terms.add(code(problem));
    }
    if (errors.equals("[]")) {
      return terms;
    }
    for (JsonNode error : JSON.readTree(errors)) {
      terms.add(code(error.path("code").asString("")));
      String pointer = error.path("pointer").asString("");
      if (pointer.startsWith("#/")) {
        addFields(pointer.substring(2).split("/"), terms);
      }
    }
    return terms;
  }

  /** True for the place of a row; names of fields begin with a letter. */
  private static boolean isPlace(String part) {
    return !part.isEmpty() && part.charAt(0) >= '0' && part.charAt(0) <= '9';
  }

  /** All that a field can be asked for as: by each that is around it, with rows or without. */
  private static void addFields(String[] parts, Set<String> terms) {
    var path = new StringBuilder();
    var names = new StringBuilder();
    for (String part : parts) {
      path.append(path.isEmpty() ? "" : ".").append(part);
      terms.add(field(path.toString()));
      if (!isPlace(part)) {
        names.append(names.isEmpty() ? "" : ".").append(part);
        terms.add(field(names.toString()));
      }
    }
  }
}
