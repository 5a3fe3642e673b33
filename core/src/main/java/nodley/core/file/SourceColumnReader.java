package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.SourceColumn;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;

/**
 * Reads the name of a table or a column in somebody else's database: {@code shop.users.email}, or
 * as a list where a name has a dot in it. Whether it is there is asked where that can be known.
 */
final class SourceColumnReader {

  private static final int SHORTEST_COLUMN = 3;
  private static final int LONGEST_NAME = 128;

  private final Section section;
  private final FormRegistry registry;

  SourceColumnReader(Section section, FormRegistry registry) {
    this.section = section;
    this.registry = registry;
  }

  /** Reads the name of a column. */
  Optional<SourceColumn> column(String key) {
    List<String> path = path(key, SHORTEST_COLUMN, "shop.users.email");
    if (path.isEmpty()) {
      return Optional.empty();
    }
    SourceColumn column =
        new SourceColumn(path.getFirst(), path.subList(1, path.size() - 1), path.getLast());
    return isThere(key, column) ? Optional.of(column) : Optional.empty();
  }

  /** Reads the name of a table, and of one of its columns, which another key has. */
  Optional<SourceColumn> table(String key, String columnKey) {
    List<String> path = path(key, SHORTEST_COLUMN - 1, "shop.genres");
    Optional<String> column = section.text(columnKey);
    if (path.isEmpty() || column.isEmpty()) {
      return Optional.empty();
    }
    SourceColumn read =
        new SourceColumn(path.getFirst(), path.subList(1, path.size()), column.get());
    return isThere(key, columnKey, read) ? Optional.of(read) : Optional.empty();
  }

  /** Returns true if a table has a column, as far as that can be known. */
  boolean isThere(String key, SourceColumn column) {
    return isThere(key, key, column);
  }

  private boolean isThere(String tableKey, String columnKey, SourceColumn column) {
    Sources sources = registry.outside().map(FormRegistry.Outside::sources).orElse(null);
    if (sources == null) {
      return true;
    }
    if (!sources.names().contains(column.source())) {
      section.unset(tableKey, "source", column.source(), sources.names());
      return false;
    }
    try {
      Optional<Set<String>> columns = sources.columns(column.source(), column.table());
      if (columns.isEmpty()) {
        section.bad(
            tableKey,
            "unknown-name",
            "There is no table `"
                + Wellformed.of(column.tableName())
                + "`, or the service may not read it.");
        return false;
      }
      if (!columns.get().contains(column.column())) {
        Optional<String> near = Near.to(column.column(), columns.get());
        section.bad(
            columnKey,
            "unknown-name",
            "`"
                + Wellformed.of(column.tableName())
                + "` has no column `"
                + Wellformed.of(column.column())
                + "`."
                + near.map(it -> " Did you mean `" + it + "`?").orElse(""),
            near);
        return false;
      }
      return true;
    } catch (Sources.AwayException e) {
      section.bad(
          tableKey,
          "bad-value",
          "`"
              + Wellformed.of(column.source())
              + "` cannot be asked now whether it has the table: "
              + e.getMessage()
              + ".");
      return false;
    }
  }

  private List<String> path(String key, int shortest, String example) {
    Node node = section.node(key).orElse(null);
    List<String> path = new ArrayList<>();
    if (node instanceof Node.Sequence(_, List<Node> items)) {
      items.forEach(item -> path.add(Section.textOf(item).orElse("")));
    } else {
      section.text(key).ifPresent(text -> path.addAll(Arrays.asList(text.split("\\.", -1))));
    }
    boolean right =
        path.size() >= shortest
            && path.size() <= shortest + 1
            && path.getFirst().matches(FormKeys.NAME)
            && path.stream().allMatch(SourceColumnReader::isName);
    if (!right) {
      section.bad(
          key,
          "bad-value",
          "`"
              + key
              + "` is a source of the settings, its table (behind its schema, where it has one)"
              + (shortest == SHORTEST_COLUMN ? " and a column" : "")
              + ": `"
              + example
              + "`; as a list where a name has a dot in it.");
      return List.of();
    }
    return path;
  }

  private static boolean isName(String name) {
    return !name.isBlank() && name.length() <= LONGEST_NAME && name.indexOf(0) < 0;
  }
}
