package nodley.core.value;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A value as it was sent, before it is read as a type: the data model of JSON (RFC 8259), into
 * which form encoding is read, too. A closed set of immutable records. Nothing of it is to be
 * trusted but its size, which the parser has limited.
 */
public sealed interface Raw {

  /** Sent as null; an absent member has no {@code Raw} at all. */
  record Null() implements Raw {}

  /** A text; in form encoding, everything that is sent. */
  record Text(String text) implements Raw {}

  /** A number, as precise as it was written. */
  record Number(BigDecimal number) implements Raw {}

  /** True or false, which JSON alone has. */
  record Bool(boolean value) implements Raw {}

  /** In form encoding: a name that was sent more than once. */
  record Many(List<Raw> items) implements Raw {
    public Many {
      items = List.copyOf(items);
    }
  }

  /** An object: groups, rows, and the submission itself, in the order in which it was sent. */
  record Members(Map<String, Raw> members) implements Raw {
    public Members {
      members = new LinkedHashMap<>(members);
    }

    /** The same in which no row says which kept row it is. */
    public Members withoutRows() {
      Map<String, Raw> without = new LinkedHashMap<>();
      members.forEach(
          (name, raw) -> {
            if (!name.equals(Values.ROW)) {
              without.put(name, withoutRows(raw));
            }
          });
      return new Members(without);
    }

    private static Raw withoutRows(Raw raw) {
      return switch (raw) {
        case Members inside -> inside.withoutRows();
        case Many(List<Raw> items) -> new Many(items.stream().map(Members::withoutRows).toList());
        default -> raw;
      };
    }
  }

  /** A value as JSON would bring it; blank ones are left out of groups and rows. */
  static Raw of(Value value) {
    return of(value, false);
  }

  /** The same for values by name. */
  static Members of(Values values) {
    return of(values, false);
  }

  /**
   * The same, in which each kept row says by {@link Values#ROW} which one it is, so that an edit
   * finds it again. What people are told has no such members: see {@link Members#withoutRows}.
   */
  static Members withRows(Values values) {
    return of(values, true);
  }

  private static Raw of(Value value, boolean rows) {
    return switch (value) {
      case Value.Blank _ -> new Null();
      case Value.Number(BigDecimal number) -> new Number(number);
      case Value.Bool(boolean yes) -> new Bool(yes);
      case Value.Chosen(List<String> options) ->
          new Many(options.stream().<Raw>map(Text::new).toList());
      case Value.Files files -> files.raw();
      case Value.Group(Values values) -> of(values, rows);
      case Value.Rows(List<Values> all) ->
          new Many(all.stream().<Raw>map(row -> of(row, rows)).toList());
      case Value.Unread(Raw raw) -> raw;
      case Value.Text _, Value.Date _, Value.Time _, Value.Moment _ -> new Text(value.shown());
    };
  }

  private static Members of(Values values, boolean rows) {
    Map<String, Raw> members = new LinkedHashMap<>();
    values
        .byName()
        .forEach(
            (name, value) -> {
              if (!value.isBlank()) {
                members.put(name, of(value, rows));
              }
            });
    if (rows && values.row() != 0) {
      members.put(Values.ROW, new Number(BigDecimal.valueOf(values.row())));
    }
    return new Members(members);
  }

  /** Absent, null, empty text, {@code []} and {@code {}} are blank. */
  default boolean isBlank() {
    return switch (this) {
      case Null _ -> true;
      case Text(String text) -> text.isEmpty();
      case Many(List<Raw> items) -> items.isEmpty();
      case Members(Map<String, Raw> members) -> members.isEmpty();
      case Number _, Bool _ -> false;
    };
  }

  /** The tree a JSON writer takes: maps, lists, text, numbers, booleans and null. */
  default Object toJson() {
    return switch (this) {
      case Null _ -> null;
      case Text(String text) -> Wellformed.of(text);
      case Number(BigDecimal number) -> number;
      case Bool(boolean value) -> value;
      case Many(List<Raw> items) -> {
        List<Object> list = new ArrayList<>();
        items.forEach(item -> list.add(item.toJson()));
        yield list;
      }
      case Members(Map<String, Raw> members) -> {
        Map<String, Object> map = new LinkedHashMap<>();
        members.forEach((name, raw) -> map.put(Wellformed.of(name), raw.toJson()));
        yield map;
      }
    };
  }

  /** How the value is shown again to the person who typed it. */
  default String shown() {
    return switch (this) {
      case Null _ -> "";
      case Text(String text) -> Wellformed.of(text);
      case Number(BigDecimal number) -> Numbers.plain(number);
      case Bool(boolean value) -> Boolean.toString(value);
      case Many(List<Raw> items) ->
          items.stream().map(Raw::shown).reduce((a, b) -> a + ", " + b).orElse("");
      case Members _ -> "{…}";
    };
  }
}
