package nodley.core.value;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** The values of one submission or record, by field name, in the order of the form; immutable. */
public final class Values {

  public static final Values NONE = new Values(Map.of());

  private final Names names;
  private final Value[] values;

  /** Names in their order; what has the same fields shares them. */
  public static final class Names {

    private static final int FEW = 4;

    private final String[] list;
    private final Map<String, Integer> places = new HashMap<>();

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

  public Values(Map<String, Value> byName) {
    this(new Names(List.copyOf(byName.keySet())), byName.values().toArray(Value[]::new));
  }

  /** Takes the array over without copying it: a value for each name; nobody else may hold it. */
  public Values(Names names, Value[] values) {
    this.names = names;
    this.values = values;
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
    for (int i = 0; i < values.length; i++) {
      if (!values[i].isBlank()) {
        json.put(names.list[i], values[i].toJson());
      }
    }
    return json;
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
