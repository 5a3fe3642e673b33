package nodley.store.schema;

import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.form.Unique;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Sql;

/**
 * A table of a form: its own, with a column for each scalar field outside rows; or that of one rows
 * field. A row has an identity, {@code row_id}, its record, its position among its siblings, and
 * the row that it is nested in. Immutable; cached by form.
 */
public final class Table {

  /**
   * Worked out once for a form, and forgotten with it: weak keys are compared by identity, and no
   * table holds the form that it belongs to.
   */
  private static final LoadingCache<Form, List<Table>> KNOWN =
      Caffeine.newBuilder().weakKeys().executor(Runnable::run).build(Table::make);

  private static final List<String> OF_ROWS =
      Stream.of("row_id", "record_id", "row_number").map(Sql::quoted).toList();

  private static final List<String> OF_INNER_ROWS =
      Stream.of("row_id", "record_id", "row_number", "outer_row").map(Sql::quoted).toList();

  private static final List<String> OF_RECORDS =
      Stream.of(
              "id",
              "revision",
              "version",
              "created_at",
              "created__by",
              "updated_at",
              "updated_by",
              "owner__id",
              "confirmed__at")
          .map(Sql::quoted)
          .toList();

  private final String formName;
  private final String outerName;
  private final List<String> path;
  private final int depth;
  private final Fields fields;
  private final Map<List<String>, Column> columns = new LinkedHashMap<>();
  private final List<UniqueIndex> uniques;
  private final String select;
  private final ColumnLayout layout;

  /** True if the form gives rights to owners, whose records are then looked for. */
  private final boolean ofOwners;

  private final Map<List<String>, String> insertions = new ConcurrentHashMap<>();

  /**
   * Of one form.
   *
   * @param path the names that lead to the rows; empty for the form's own table
   * @param outerName the table of the rows around these, in quotes; empty if there are none
   * @param depth how many rows are around a row of this table, itself counted; 0 for the form's own
   */
  private Table(Form form, List<String> path, int depth, Fields fields, String outerName) {
    this.outerName = outerName;
    this.ofOwners = form.access().hasOwners();
    this.formName = form.name();
    this.path = path;
    this.depth = depth;
    this.fields = fields;
    List<Unique> own = form.uniques().stream().filter(it -> it.rows().equals(path)).toList();
    Set<List<String>> folded =
        own.stream()
            .filter(Unique::ignoreCase)
            .flatMap(unique -> unique.paths().stream())
            .collect(Collectors.toSet());
    for (Form.Placed placed : fields.columns()) {
      boolean folds = folded.contains(placed.path()) && placed.field().type().isWritten();
      columns.put(placed.path(), new Column(placed, folds));
    }
    this.uniques = own.stream().map(unique -> new UniqueIndex(this, unique)).toList();
    List<String> leading = depth == 0 ? OF_RECORDS : depth == 1 ? OF_ROWS : OF_INNER_ROWS;
    List<Column> read =
        columns.values().stream().filter(column -> !column.field().isSecret()).toList();
    this.select =
        Stream.concat(leading.stream(), read.stream().map(Column::name))
            .collect(Collectors.joining(", ", "SELECT ", " FROM " + name()));
    this.layout = ColumnLayout.of(fields, read, leading.size() + 1);
  }

  /** All tables of a form, outer ones first. */
  public static List<Table> of(Form form) {
    return KNOWN.get(form);
  }

  /** True if two forms are kept in the same tables, columns and indexes. */
  public static boolean alike(Form one, Form other) {
    return of(one).stream()
        .map(Table::shape)
        .toList()
        .equals(of(other).stream().map(Table::shape).toList());
  }

  private List<Object> shape() {
    return List.of(
        plainName(),
        ownIndexes().keySet(),
        columns.values().stream().map(Column::shape).collect(Collectors.toSet()),
        uniques.stream().map(UniqueIndex::unique).collect(Collectors.toSet()));
  }

  private static List<Table> make(Form form) {
    List<Table> tables = new ArrayList<>();
    tables.add(new Table(form, List.of(), 0, form.fields(), ""));
    rows(form, form.fields(), List.of(), 0, "", tables);
    return List.copyOf(tables);
  }

  private static void rows(
      Form form,
      Fields fields,
      List<String> outer,
      int depth,
      String outerName,
      List<Table> tables) {
    for (Field field : fields) {
      List<String> path = new ArrayList<>(outer);
      path.add(field.name());
      if (field.type() == Type.ROWS) {
        Table table = new Table(form, path, depth + 1, field.fields(), outerName);
        tables.add(table);
        rows(form, field.fields(), path, depth + 1, table.name(), tables);
      } else if (field.type() == Type.GROUP) {
        rows(form, field.fields(), path, depth, outerName, tables);
      }
    }
  }

  /** Returns how many rows fields lead to this table; 0 for the form's own table. */
  public int depth() {
    return depth;
  }

  /** Returns the fields whose values are in this table, groups included. */
  public Fields fields() {
    return fields;
  }

  /** Returns true for the form's own table, false for a table of rows. */
  public boolean isOwn() {
    return depth == 0;
  }

  /** The name without quotes: {@code visit}, {@code visit.crew}. */
  public String plainName() {
    return isOwn() ? formName : formName + "." + String.join(".", path);
  }

  /** Returns the name as a quoted identifier. */
  public String name() {
    return Sql.quoted(plainName());
  }

  /** The column that holds the id of the record. */
  public String key() {
    return isOwn() ? "\"id\"" : "\"record_id\"";
  }

  /** The names that lead to the rows; empty for the form's own table. */
  public List<String> path() {
    return path;
  }

  /** Returns the columns of fields, in the form's order, without Nodley's own columns. */
  public Collection<Column> columns() {
    return columns.values();
  }

  /** What is unique in this table. */
  public List<UniqueIndex> uniques() {
    return uniques;
  }

  /** The column of a field, if there is one at this path. */
  public Optional<Column> find(List<String> path) {
    return Optional.ofNullable(columns.get(path));
  }

  /** Returns the column of a field by its path within this table. */
  public Column column(List<String> path) {
    return find(path).orElseThrow();
  }

  /** Reads everything, up to where a condition begins. Secrets stay where they are. */
  public String select() {
    return select;
  }

  /** How a row that {@link #select} gives becomes values. */
  public ColumnLayout layout() {
    return layout;
  }

  /** Inserts a row of these columns, a mark for each of them. */
  public String insertion(Collection<String> columns) {
    return insertions.computeIfAbsent(
        List.copyOf(columns),
        names ->
            "INSERT INTO "
                + name()
                + " ("
                + String.join(", ", names)
                + ") VALUES ("
                + String.join(", ", Collections.nCopies(names.size(), "?"))
                + ")");
  }

  /** A field of this table as a path of the form: {@code crew.name}. */
  public String pathOf(Column column) {
    return isOwn() ? column.path() : String.join(".", path) + "." + column.path();
  }

  /** Makes the table with all its columns, which takes far less time than adding each of them. */
  public String declaration() {
    String own =
        isOwn()
            ? "\"record_number\" INTEGER PRIMARY KEY, \"id\" TEXT NOT NULL UNIQUE, \"version\""
                + " INTEGER NOT NULL, \"revision\" INTEGER NOT NULL, \"created_at\" TEXT NOT"
                + " NULL, \"updated_at\" TEXT NOT NULL, \"updated_by\" TEXT NOT NULL DEFAULT '',"
                + " \"created__by\" TEXT NOT NULL DEFAULT '', \"owner__id\" TEXT NOT NULL DEFAULT"
                + " '', \"confirmed__at\" TEXT NOT NULL DEFAULT ''"
            : ofRows(Sql.quoted(formName), outerName);
    return Catalog.newTable(
        name(),
        Stream.concat(Stream.of(own), columns.values().stream().map(Column::declaration)).toList());
  }

  /**
   * The columns of Nodley's own in a table of rows. No identity is given twice, so that a page that
   * is open for long never means another row than it shows.
   *
   * @param records the table of the records, in quotes
   * @param outer that of the rows around these, in quotes; empty for none
   */
  static String ofRows(String records, String outer) {
    return "\"row_id\" INTEGER PRIMARY KEY AUTOINCREMENT, \"record_id\" TEXT NOT NULL REFERENCES "
        + records
        + " (\"id\") ON DELETE CASCADE, "
        + (outer.isEmpty()
            ? ""
            : "\"outer_row\" INTEGER NOT NULL REFERENCES "
                + outer
                + " (\"row_id\") ON DELETE CASCADE, ")
        + "\"row_number\" INTEGER NOT NULL";
  }

  /** Indexes of Nodley's own, by name without quotes: what each is over. */
  public Map<String, String> ownIndexes() {
    if (!isOwn()) {
      return indexesOfRows(plainName(), depth > 1);
    }
    return ofOwners ? Map.of(plainName() + "__owner", "(\"owner__id\", \"id\")") : Map.of();
  }

  /**
   * Returns the indexes that a table of rows needs, by name, with their columns.
   *
   * @param inner true for rows within rows
   */
  static Map<String, String> indexesOfRows(String table, boolean inner) {
    String records = "(\"record_id\", \"row_number\")";
    return inner
        ? Map.of(table + "__record", records, table + "__outer", "(\"outer_row\")")
        : Map.of(table + "__record", records);
  }
}
