package nodley.core.form;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import nodley.core.expression.Path;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * The fields of a form, a group or a row: siblings in their order, found by name or by index.
 * Immutable and thread-safe.
 *
 * <p>What the pipeline asks for each submission (whether any field repeats another, has rules, is
 * for the service alone, is not for everybody) is computed once, here, so that asking costs
 * nothing. Building takes time in proportion to the number of fields below.
 */
public final class Fields implements Iterable<Field> {

  public static final Fields NONE = new Fields(List.of());

  private final Map<String, Field> byName;
  private final List<Field> list;
  private final Field[] inOrder;
  private final Values.Names names;
  private final List<Form.Placed> columns;
  private final List<Path> references;
  private final boolean withFiles;
  private final boolean repeats;
  private final boolean rules;
  private final List<Path> hidden;
  private final List<Field> onPages;
  private final boolean allOnPages;
  private final boolean forAll;
  private final boolean noneHidden;

  /** Fields in their order; of two with one name, the later takes the place of the earlier. */
  public Fields(Collection<Field> fields) {
    Map<String, Field> ordered = new LinkedHashMap<>();
    fields.forEach(field -> ordered.put(field.name(), field));
    byName = Collections.unmodifiableMap(ordered);
    list = List.copyOf(ordered.values());
    inOrder = list.toArray(Field[]::new);
    names = new Values.Names(list.stream().map(Field::name).toList());
    columns = columns(list);
    withFiles = any(it -> it.type() == Type.FILE, Fields::hasFiles);
    references =
        paths(
            it ->
                it.refersTo().isPresent()
                    || it.type() == Type.FILE
                    || it.exists().isPresent()
                    || it.options().source().isPresent());
    repeats = any(it -> it.repeats().isPresent(), Fields::hasRepeats);
    rules = any(it -> !it.rules().isEmpty(), Fields::hasRules);
    hidden = paths(it -> it.presence().isForServer());
    onPages = list.stream().filter(Field::isOnPages).toList();
    allOnPages = !any(it -> !it.isOnPages(), inside -> !inside.allOnPages);
    forAll =
        !any(
            it -> it.access().see().isPresent() || it.access().edit().isPresent(),
            inside -> !inside.forAll);
    noneHidden = !any(Field::isHidden, inside -> !inside.noneHidden);
  }

  private static List<Form.Placed> columns(List<Field> fields) {
    List<Form.Placed> columns = new ArrayList<>();
    for (Field field : fields) {
      if (field.type() == Type.GROUP) {
        for (Form.Placed inner : field.fields().columns) {
          List<String> path = new ArrayList<>(List.of(field.name()));
          path.addAll(inner.path());
          columns.add(new Form.Placed(path, inner.field()));
        }
      } else if (field.type() != Type.ROWS && field.isKept()) {
        columns.add(new Form.Placed(List.of(field.name()), field));
      }
    }
    return List.copyOf(columns);
  }

  private boolean any(Predicate<Field> has, Predicate<Fields> hasInside) {
    return list.stream().anyMatch(field -> has.test(field) || hasInside.test(field.fields()));
  }

  /** The paths of such fields, however deep. */
  private List<Path> paths(Predicate<Field> is) {
    List<Path> found = new ArrayList<>();
    for (List<String> path : names(is)) {
      found.add(path(path));
    }
    return List.copyOf(found);
  }

  private List<List<String>> names(Predicate<Field> is) {
    List<List<String>> found = new ArrayList<>();
    for (Field field : list) {
      if (is.test(field)) {
        found.add(List.of(field.name()));
      }
      for (List<String> inner : field.fields().names(is)) {
        List<String> path = new ArrayList<>(List.of(field.name()));
        path.addAll(inner);
        found.add(path);
      }
    }
    return found;
  }

  /** The way to a declared field behind the names of the groups and rows around it. */
  public Path path(List<String> names) {
    List<Integer> places = new ArrayList<>();
    Fields here = this;
    for (String name : names) {
      places.add(here.position(name));
      here = here.find(name).orElseThrow().fields();
    }
    return new Path(names, places);
  }

  /** The paths of the values that point at a record, a file, or a row of somebody else's table. */
  public List<Path> references() {
    return references;
  }

  /** True if a field, however deep, is one of files. */
  public boolean hasFiles() {
    return withFiles;
  }

  /** True if a value, however deep, is one typed twice. */
  public boolean hasRepeats() {
    return repeats;
  }

  /** The paths of the fields with a condition that no page can work out. */
  public List<Path> forServer() {
    return hidden;
  }

  /** True if a field, however deep, has rules of its own. */
  public boolean hasRules() {
    return rules;
  }

  /** The kept fields without rows: those in groups too, each with its path from here. */
  public List<Form.Placed> columns() {
    return columns;
  }

  /** Returns the fields in their order. */
  public List<Field> list() {
    return list;
  }

  /** The fields that pages have, without those that the service alone sets. */
  public List<Field> onPages() {
    return onPages;
  }

  /** True if pages have the field at a path, or there is no such field. */
  public boolean isOnPages(List<String> path) {
    return find(path).filter(field -> !field.isOnPages()).isEmpty();
  }

  /** True if everybody may see and edit each of them who may the record. */
  public boolean areForAll() {
    return forAll;
  }

  /** True if the caller may know of all of them. */
  public boolean areAllKnown() {
    return noneHidden;
  }

  /** The fields as a caller has them. */
  Fields seenBy(Predicate<Access.Who> given) {
    return forAll ? this : new Fields(list.stream().map(it -> it.seenBy(given)).toList());
  }

  /** What of some values pages are sent. */
  public Values onPages(Values values) {
    return allOnPages ? values : only(values, Field::isOnPages);
  }

  /** What of some values the caller may know of. */
  public Values known(Values values) {
    return noneHidden ? values : only(values, it -> !it.isHidden());
  }

  private Values only(Values values, Predicate<Field> wanted) {
    Map<String, Value> told = new LinkedHashMap<>();
    values
        .byName()
        .forEach(
            (name, value) -> {
              Field field = byName.get(name);
              if (field == null || wanted.test(field)) {
                told.put(name, field == null ? value : only(field, value, wanted));
              }
            });
    return new Values(told).ofRow(values.row());
  }

  private static Value only(Field field, Value value, Predicate<Field> wanted) {
    return switch (value) {
      case Value.Group(Values inside) -> new Value.Group(field.fields().only(inside, wanted));
      case Value.Rows(List<Values> rows) ->
          new Value.Rows(rows.stream().map(row -> field.fields().only(row, wanted)).toList());
      default -> value;
    };
  }

  /** The same of values as they were sent or kept. */
  public Raw.Members onPages(Raw.Members values) {
    return allOnPages ? values : only(values, Field::isOnPages);
  }

  /** The same of values as they were sent or kept. */
  public Raw.Members known(Raw.Members values) {
    return noneHidden ? values : only(values, it -> !it.isHidden());
  }

  /** What of some values is of fields that there are; earlier versions have others, too. */
  public Raw.Members declared(Raw.Members values) {
    Map<String, Raw> told = new LinkedHashMap<>();
    values
        .members()
        .forEach(
            (name, value) -> {
              Field field = byName.get(name);
              if (field != null) {
                told.put(name, declared(field, value));
              } else if (name.equals(Values.ROW)) {
                told.put(name, value);
              }
            });
    return new Raw.Members(told);
  }

  private static Raw declared(Field field, Raw value) {
    return switch (value) {
      case Raw.Members members -> field.fields().declared(members);
      case Raw.Many(List<Raw> rows) when field.type() == Type.ROWS ->
          new Raw.Many(rows.stream().map(row -> declared(field, row)).toList());
      default -> value;
    };
  }

  private Raw.Members only(Raw.Members values, Predicate<Field> wanted) {
    Map<String, Raw> told = new LinkedHashMap<>();
    values
        .members()
        .forEach(
            (name, value) -> {
              Field field = byName.get(name);
              if (field == null) {
                told.put(name, value);
              } else if (wanted.test(field)) {
                told.put(name, field.fields().inside(value, wanted));
              }
            });
    return new Raw.Members(told);
  }

  private Raw inside(Raw value, Predicate<Field> wanted) {
    return switch (value) {
      case Raw.Members members -> only(members, wanted);
      case Raw.Many(List<Raw> rows) ->
          new Raw.Many(rows.stream().map(row -> inside(row, wanted)).toList());
      default -> value;
    };
  }

  /** The field at a place, counted from 0. */
  public Field at(int place) {
    return inOrder[place];
  }

  /** Values of these fields, one for each, in their order; the array is taken over. */
  public Values values(Value[] values) {
    return new Values(names, values);
  }

  /** Where a field stands, counted from 0; −1 if there is none of this name. */
  public int position(String name) {
    return names.place(name);
  }

  /** The same where it is likely at this place, or soon after it: most arrive in their order. */
  public int position(String name, int likely) {
    return names.place(name, likely);
  }

  /** Returns the field of a name; empty if there is none. */
  public Optional<Field> find(String name) {
    return Optional.ofNullable(byName.get(name));
  }

  /** The field behind the names of the groups and rows around it. */
  public Optional<Field> find(List<String> path) {
    Optional<Field> field = find(path.getFirst());
    return path.size() == 1
        ? field
        : field.flatMap(it -> it.fields().find(path.subList(1, path.size())));
  }

  /** Returns the names, in the order of the fields. */
  public Set<String> names() {
    return byName.keySet();
  }

  /** Returns how many there are, without those inside. */
  public int size() {
    return inOrder.length;
  }

  /** Returns the fields in their order. */
  public Stream<Field> stream() {
    return list.stream();
  }

  @Override
  public Iterator<Field> iterator() {
    return list.iterator();
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Fields fields && byName.equals(fields.byName);
  }

  @Override
  public int hashCode() {
    return byName.hashCode();
  }

  @Override
  public String toString() {
    return byName.values().toString();
  }
}
