package nodley.core.value;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.BiConsumer;

/**
 * Values by field name, in the order of the form: of a submission, record, group or row. Immutable.
 * The values of a row have the identity of the stored row; equality ignores it.
 */
public final class Values {

  /** Values by name; those that are left out are blank. */
  public static final Values NONE = new Values(Map.of());

  /** The member of a row, as it is sent, that says which kept row it is. */
  public static final String ROW = "_row";

  private final Names names;
  private final Value[] values;
  private final long row;

  /** Names in their order; what has the same fields shares them. */
  public static final class Names {

    private static final int FEW = 4;

    private final String[] list;
    private final Map<String, Integer> places = new HashMap<>();

    /** The names of sibling fields, each with its place. */
    public Names(List<String> list) {
      this.list = list.toArray(String[]::new);
      list.forEach(name -> places.put(name, places.size()));
    }

    /** Where a name stands, counted from 0; −1 if it is not there. */
    public int place(String name) {
      Integer place = places.get(name);
      return place == null ? -1 : place;
    }

    /** The same, looked for first at a place and the few that follow it. */
    public int place(String name, int likely) {
      int end = Math.min(likely + FEW, list.length);
      for (int i = likely; i < end; i++) {
        if (list[i].equals(name)) {
          return i;
        }
      }
      return place(name);
    }
  }

  /** Values by name; those that are left out are blank. */
  public Values(Map<String, Value> byName) {
    this(new Names(List.copyOf(byName.keySet())), byName.values().toArray(Value[]::new));
  }

  /** Takes the array over without copying it: a value for each name; nobody else may hold it. */
  public Values(Names names, Value[] values) {
    this(names, values, 0);
  }

  private Values(Names names, Value[] values, long row) {
    this.names = names;
    this.values = values;
    this.row = row;
  }

  /** The same as those of a kept row. */
  public Values ofRow(long row) {
    return row == this.row ? this : new Values(names, values, row);
  }

  /** The number of the kept row that they are of, from 1 up; 0 if they are of none. */
  public long row() {
    return row;
  }

  /** The same as a map of one's own. */
  public Map<String, Value> byName() {
    Map<String, Value> byName = LinkedHashMap.newLinkedHashMap(values.length);
    for (int i = 0; i < values.length; i++) {
      byName.put(names.list[i], values[i]);
    }
    return byName;
  }

  /** The value of a field; one that is not there is blank. */
  public Value get(String name) {
    int place = names.place(name);
    return place < 0 ? Value.BLANK : values[place];
  }

  /** The same, looked for first at a place and the few that follow it. */
  public Value get(String name, int likely) {
    int place = names.place(name, likely);
    return place < 0 ? Value.BLANK : values[place];
  }

  /** The value of a field behind the names of the groups around it; blank if it is not there. */
  public Value at(List<String> path) {
    Values here = this;
    for (int i = 0; i < path.size() - 1; i++) {
      here = here.get(path.get(i)) instanceof Value.Group(Values inside) ? inside : NONE;
    }
    return here.get(path.getLast());
  }

  /** The values of a field behind the names of groups and rows, one for each row. */
  public List<Value> each(List<String> path) {
    Value first = get(path.getFirst());
    if (path.size() == 1) {
      return List.of(first);
    }
    List<String> rest = path.subList(1, path.size());
    return switch (first) {
      case Value.Group(Values inside) -> inside.each(rest);
      case Value.Rows(List<Values> rows) ->
          rows.stream().flatMap(row -> row.each(rest).stream()).toList();
      default -> List.of();
    };
  }

  /**
   * The number of the kept row at some places of rows.
   *
   * @param path the names that lead to it, through groups and rows
   * @param places of the rows on the way, the outermost first; the last is its own
   */
  public long row(List<String> path, List<Integer> places) {
    Values here = this;
    int next = 0;
    for (String name : path) {
      here =
          switch (here.get(name)) {
            case Value.Group(Values inside) -> inside;
            case Value.Rows(List<Values> rows) -> rows.get(places.get(next++));
            default -> throw new IllegalArgumentException("no rows at " + path);
          };
    }
    return here.row;
  }

  /** True if no field has a value. */
  public boolean isBlank() {
    for (Value value : values) {
      if (value != Value.BLANK) {
        return false;
      }
    }
    return true;
  }

  /** The members of a JSON object; blank values are left out. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    forEachFilled((name, value) -> json.put(name, value.toJson()));
    return json;
  }

  /** Calls an action with each name and value that is not blank, in their order. */
  public void forEachFilled(BiConsumer<String, Value> action) {
    for (int i = 0; i < values.length; i++) {
      if (!values[i].isBlank()) {
        action.accept(names.list[i], values[i]);
      }
    }
  }

  /** The same names with the same values, in whatever order. */
  @Override
  public boolean equals(Object other) {
    if (!(other instanceof Values that) || values.length != that.values.length) {
      return false;
    }
    for (int i = 0; i < values.length; i++) {
      int place = that.names.place(names.list[i]);
      if (place < 0 || !values[i].equals(that.values[place])) {
        return false;
      }
    }
    return true;
  }

  @Override
  public int hashCode() {
    int sum = 0;
    for (int i = 0; i < values.length; i++) {
      sum += Objects.hash(names.list[i], values[i]);
    }
    return sum;
  }

  @Override
  public String toString() {
    return byName().toString();
  }
}
