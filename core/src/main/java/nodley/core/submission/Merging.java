package nodley.core.submission;

import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.name.Pointer;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Brings together what somebody else has saved and what is typed: field by field, in rows by the
 * row that each one says it is ({@link Values#ROW}), choices one by one. What only one side has
 * changed stands. The page does the same ({@code merging.ts}); both run {@code corpus/merging}.
 */
public final class Merging {

  private static final Raw NOTHING = new Raw.Null();
  private static final Raw NO_VALUE = new Raw.Text("");

  /** Versions are kept in standard form; a moment says its own offset. */
  private static final ValueReader KEPT = new ValueReader(Input.Encoding.JSON, ZoneOffset.UTC);

  /** What both have changed, in the order of the form. */
  private final List<Conflict> conflicts = new ArrayList<>();

  private Merging() {}

  /**
   * The outcome of a merge.
   *
   * @param values the merged values; where both changed a field, they have it as it was typed
   * @param conflicts the fields that both have changed, each otherwise
   */
  public record Merged(Raw.Members values, List<Conflict> conflicts) {}

  /**
   * A field that both have changed.
   *
   * @param pointer where it stands in the merged values
   * @param label of the field; in rows, with the row that it is in
   */
  public record Conflict(String pointer, String label, Field field, Value theirs, Value yours) {}

  /**
   * Merges two changes of the same record.
   *
   * @param base what both began from
   * @param theirs what is kept by now
   * @param yours what is typed
   */
  public static Merged merge(
      Fields fields, Raw.Members base, Raw.Members theirs, Raw.Members yours) {
    Merging merging = new Merging();
    Raw.Members known = known(fields, base);
    Map<String, Raw> values = merging.fields(fields, known, theirs, yours, Pointer.ROOT, "");
    return new Merged(new Raw.Members(values), List.copyOf(merging.conflicts));
  }

  /**
   * Judged values, whose rows say again which kept rows they were typed as: judging forgets that of
   * rows that are gone.
   */
  public static Raw.Members numbered(Fields fields, Raw.Members judged, Raw.Members typed) {
    Map<String, Raw> values = new LinkedHashMap<>(judged.members());
    Raw row = typed.members().get(Values.ROW);
    if (row != null) {
      values.put(Values.ROW, row);
    }
    for (Field field : fields) {
      Raw value = member(judged, field);
      Raw sent = member(typed, field);
      if (value instanceof Raw.Members group) {
        values.put(field.name(), numbered(field.fields(), group, members(sent)));
      } else if (field.type() == Type.ROWS) {
        List<Raw.Members> rows = filled(value);
        List<Raw.Members> said = filled(sent);
        List<Raw> numbered = new ArrayList<>();
        for (int i = 0; i < rows.size() && rows.size() == said.size(); i++) {
          numbered.add(numbered(field.fields(), rows.get(i), said.get(i)));
        }
        values.put(field.name(), numbered.isEmpty() ? value : new Raw.Many(numbered));
      }
    }
    return new Raw.Members(values);
  }

  /**
   * What is typed, but with their value of one field.
   *
   * @param pointer of a conflict; one that leads to no field changes nothing
   */
  public static Raw.Members withTheirs(
      Fields fields, Raw.Members typed, Raw.Members theirs, String pointer) {
    String[] path = pointer.startsWith(Pointer.ROOT + "/") ? pointer.split("/") : new String[0];
    return path.length < 2
        ? typed
        : taken(fields, typed, theirs, List.of(path).subList(1, path.length));
  }

  /** The same without what is computed, which is not sent. */
  public static Raw.Members withoutComputed(Fields fields, Raw.Members values) {
    Map<String, Raw> sent = new LinkedHashMap<>(values.members());
    for (Field field : fields) {
      Raw value = member(values, field);
      if (field.source().compute().isPresent()) {
        sent.remove(field.name());
      } else if (value instanceof Raw.Members group) {
        sent.put(field.name(), withoutComputed(field.fields(), group));
      } else if (field.type() == Type.ROWS && value instanceof Raw.Many(List<Raw> rows)) {
        sent.put(
            field.name(),
            new Raw.Many(
                rows.stream()
                    .<Raw>map(it -> withoutComputed(field.fields(), members(it)))
                    .toList()));
      }
    }
    return new Raw.Members(sent);
  }

  private static Raw.Members taken(
      Fields fields, Raw.Members typed, Raw.Members theirs, List<String> path) {
    Field field = fields.find(path.getFirst()).orElse(null);
    if (field == null || field.isSecret() || !field.isKept()) {
      return typed;
    }
    Raw here = member(typed, field);
    Raw there = member(theirs, field);
    List<String> rest = path.subList(1, path.size());
    Raw value;
    if (rest.isEmpty()) {
      value = there.isBlank() ? NO_VALUE : there;
    } else if (field.type() == Type.ROWS) {
      value = takenInRow(field, here, there, rest);
    } else {
      value = taken(field.fields(), members(here), members(there), rest);
    }
    Map<String, Raw> values = new LinkedHashMap<>(typed.members());
    values.put(field.name(), value);
    return new Raw.Members(values);
  }

  /** The place is that of what is typed; their row is the one that it says it is. */
  private static Raw takenInRow(Field field, Raw typed, Raw theirs, List<String> path) {
    List<Raw> rows = new ArrayList<>(items(typed));
    int place = path.getFirst().matches("[0-9]{1,6}") ? Integer.parseInt(path.getFirst()) : -1;
    if (place < 0 || place >= rows.size() || path.size() < 2) {
      return typed;
    }
    Raw.Members row = members(rows.get(place));
    Raw.Members kept = byId(theirs).get(id(row));
    if (kept != null && !id(row).isEmpty()) {
      rows.set(place, taken(field.fields(), row, kept, path.subList(1, path.size())));
    }
    return new Raw.Many(rows);
  }

  /** A version without the values of fields that the form has no longer. */
  private static Raw.Members known(Fields fields, Raw.Members version) {
    Map<String, Raw> known = new LinkedHashMap<>();
    for (Field field : fields) {
      Raw value = member(version, field);
      Fields nested = field.fields();
      known.put(
          field.name(),
          switch (value) {
            case Raw.Members group -> known(nested, group);
            case Raw.Many(List<Raw> rows) when field.type() == Type.ROWS ->
                new Raw.Many(rows.stream().<Raw>map(it -> known(nested, members(it))).toList());
            default -> value;
          });
    }
    Raw row = version.members().get(Values.ROW);
    if (row != null) {
      known.put(Values.ROW, row);
    }
    return new Raw.Members(known);
  }

  private Map<String, Raw> fields(
      Fields fields,
      Raw.Members base,
      Raw.Members theirs,
      Raw.Members yours,
      String at,
      String in) {
    Map<String, Raw> values = new LinkedHashMap<>(yours.members());
    for (Field field : fields) {
      Raw from = member(base, field);
      Raw their = member(theirs, field);
      Raw your = member(yours, field);
      String pointer = Pointer.in(at, field.name());
      boolean typed = field.source().compute().isEmpty() && field.isKept() && !field.isSecret();
      if (field.type() == Type.GROUP) {
        Map<String, Raw> group =
            fields(field.fields(), members(from), members(their), members(your), pointer, in);
        if (!group.isEmpty()) {
          values.put(field.name(), new Raw.Members(group));
        }
      } else if (typed && !alike(from, their) && !alike(their, your)) {
        values.put(field.name(), changed(field, from, their, your, pointer, in));
      }
    }
    return values;
  }

  /** Of a field that they have changed, and that is not the same by now. */
  private Raw changed(Field field, Raw from, Raw their, Raw your, String pointer, String in) {
    if (alike(from, your)) {
      return their.isBlank() ? NO_VALUE : their;
    }
    if (field.type() == Type.CHOICES) {
      return options(items(from), items(their), items(your));
    }
    int known = conflicts.size();
    Raw together = field.type() == Type.ROWS ? rows(field, from, their, your, pointer, in) : null;
    if (together == null) {
      conflicts.subList(known, conflicts.size()).clear();
      conflicts.add(
          new Conflict(
              pointer, in + field.label(), field, value(field, their), value(field, your)));
      return your;
    }
    return together;
  }

  /** What they chose besides, without what they chose no longer. */
  private static Raw options(List<Raw> from, List<Raw> their, List<Raw> your) {
    List<Raw> chosen = new ArrayList<>();
    your.stream().filter(it -> their.contains(it) || !from.contains(it)).forEach(chosen::add);
    their.stream().filter(it -> !from.contains(it) && !your.contains(it)).forEach(chosen::add);
    return new Raw.Many(chosen);
  }

  /** Null if it is not known which row is which, or if one side changed what the other removed. */
  private Raw rows(Field field, Raw from, Raw their, Raw your, String pointer, String in) {
    Map<String, Raw.Members> before = byId(from);
    Map<String, Raw.Members> kept = byId(their);
    List<Raw.Members> here = new ArrayList<>(filled(your));
    if (before.containsKey("") || kept.containsKey("")) {
      return null;
    }
    Set<String> ids = here.stream().map(Merging::id).collect(Collectors.toSet());
    for (Map.Entry<String, Raw.Members> row : before.entrySet()) {
      Raw now = kept.get(row.getKey());
      if (now != null && !ids.contains(row.getKey()) && !alike(now, row.getValue())) {
        return null;
      }
    }
    // Their order stands where it was not changed here.
    List<String> stayed = before.keySet().stream().filter(ids::contains).toList();
    List<String> order = here.stream().map(Merging::id).filter(before::containsKey).toList();
    if (stayed.equals(order)) {
      List<String> places = List.copyOf(kept.keySet());
      here.sort((a, b) -> Integer.compare(place(places, a), place(places, b)));
    }
    List<Raw> all = new ArrayList<>();
    for (Raw.Members row : here) {
      Raw.Members old = before.get(id(row));
      Raw.Members now = kept.get(id(row));
      if (old == null) {
        all.add(row);
      } else if (now != null) {
        String place = Pointer.in(pointer, String.valueOf(all.size()));
        String label = in + field.label() + " " + (all.size() + 1) + ": ";
        all.add(new Raw.Members(fields(field.fields(), old, now, row, place, label)));
      } else if (!alike(old, row)) {
        return null;
      } // Else they have removed it, and it was not changed here.
    }
    kept.forEach(
        (id, row) -> {
          if (!before.containsKey(id) && !ids.contains(id)) {
            all.add(row);
          }
        });
    return new Raw.Many(all);
  }

  private static int place(List<String> places, Raw.Members row) {
    int place = places.indexOf(id(row));
    return place < 0 ? places.size() : place;
  }

  private static Map<String, Raw.Members> byId(Raw rows) {
    Map<String, Raw.Members> byId = new LinkedHashMap<>();
    filled(rows).forEach(row -> byId.put(id(row), row));
    return byId;
  }

  /** Which kept row a row says it is; empty for a new one. */
  private static String id(Raw.Members row) {
    return row.members().getOrDefault(Values.ROW, NOTHING).shown();
  }

  private static List<Raw.Members> filled(Raw rows) {
    return items(rows).stream().filter(it -> !plain(it).isBlank()).map(Merging::members).toList();
  }

  private static List<Raw> items(Raw raw) {
    return raw instanceof Raw.Many(List<Raw> items) ? items : List.of();
  }

  private static Raw.Members members(Raw raw) {
    return raw instanceof Raw.Members members ? members : new Raw.Members(Map.of());
  }

  private static Raw member(Raw.Members members, Field field) {
    return members.members().getOrDefault(field.name(), NOTHING);
  }

  private static boolean alike(Raw one, Raw other) {
    return plain(one).equals(plain(other));
  }

  /** Without what does not count: which kept rows they say they are, and what is blank. */
  private static Raw plain(Raw raw) {
    return switch (raw) {
      case Raw.Members(Map<String, Raw> members) -> {
        Map<String, Raw> plain = new LinkedHashMap<>();
        members.forEach(
            (name, inner) -> {
              Raw value = plain(inner);
              if (!name.equals(Values.ROW) && !value.isBlank()) {
                plain.put(name, value);
              }
            });
        yield plain.isEmpty() ? NOTHING : new Raw.Members(plain);
      }
      case Raw.Many(List<Raw> items) -> {
        List<Raw> plain = items.stream().map(Merging::plain).filter(it -> !it.isBlank()).toList();
        yield plain.isEmpty() ? NOTHING : new Raw.Many(plain);
      }
      case Raw.Text(String text) when text.isBlank() -> NOTHING;
      default -> raw.isBlank() ? NOTHING : raw;
    };
  }

  /** For people to look at. */
  private static Value value(Field field, Raw raw) {
    return switch (field.type()) {
      case GROUP -> new Value.Group(values(field, members(raw)));
      case ROWS -> new Value.Rows(filled(raw).stream().map(it -> values(field, it)).toList());
      default -> KEPT.of(field, raw);
    };
  }

  private static Values values(Field field, Raw.Members members) {
    Map<String, Value> values = new LinkedHashMap<>();
    for (Field inner : field.fields()) {
      values.put(inner.name(), value(inner, member(members, inner)));
    }
    return new Values(values);
  }
}
