package nodley.core.file;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import nodley.core.expression.Expression;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;

/**
 * Orders dependent fields topologically: each after those that its expressions read. Depth-first
 * search, linear in fields and references. Where fields depend on each other in a circle there is
 * no order, and the circle is returned for the error.
 */
final class DependencyOrder {

  private final Map<String, Form.Placed> placed = new LinkedHashMap<>();
  private final List<Form.Placed> order = new ArrayList<>();
  private final Set<String> done = new LinkedHashSet<>();
  private final List<String> under = new ArrayList<>();
  private List<String> cycle;

  private DependencyOrder(Fields fields) {
    walk(fields, List.of());
    placed.keySet().forEach(this::visit);
  }

  /** The order of the fields, or those of a cycle. */
  record Outcome(List<Form.Placed> order, Optional<List<String>> cycle) {}

  static Outcome of(Fields fields) {
    var settling = new DependencyOrder(fields);
    List<Form.Placed> needed = settling.order.stream().filter(it -> depends(it.field())).toList();
    return new Outcome(needed, Optional.ofNullable(settling.cycle));
  }

  private void walk(Fields fields, List<String> outer) {
    for (Field field : fields) {
      List<String> path = new ArrayList<>(outer);
      path.add(field.name());
      Form.Placed here = new Form.Placed(path, field);
      placed.put(here.dotted(), here);
      walk(field.fields(), path);
    }
  }

  private static boolean depends(Field field) {
    return !field.presence().shown().isAlways()
        || !field.presence().editable().isAlways()
        || field.source().literal().isPresent()
        || field.source().computed().isPresent()
        || field.source().compute().isPresent();
  }

  private void visit(String path) {
    if (done.contains(path) || cycle != null) {
      return;
    }
    int begun = under.indexOf(path);
    if (begun >= 0) {
      cycle = new ArrayList<>(under.subList(begun, under.size()));
      cycle.add(path);
      return;
    }
    under.add(path);
    Form.Placed here = placed.get(path);
    int dot = path.lastIndexOf('.');
    if (dot > 0) {
      visit(path.substring(0, dot));
    }
    reads(here).forEach(this::visit);
    under.removeLast();
    done.add(path);
    order.add(here);
  }

  /** The paths of the fields that the value of this one depends on. */
  private List<String> reads(Form.Placed here) {
    Field field = here.field();
    List<String> found = new ArrayList<>();
    Stream.of(
            field.source().compute(),
            field.source().computed(),
            field.presence().shown().when(),
            field.presence().editable().when())
        .flatMap(Optional::stream)
        .map(Expression::reads)
        .forEach(reads -> reads.forEach(read -> found.addAll(absolute(here.path(), read))));
    return found;
  }

  private List<String> absolute(List<String> field, Expression.Read of) {
    int outer = Math.max(0, field.size() - 1 - of.up());
    List<String> parts = new ArrayList<>(field.subList(0, outer));
    parts.addAll(of.names());
    String whole = String.join(".", parts);
    Form.Placed read = placed.get(whole);
    if (read == null) {
      return List.of();
    }
    List<String> found = new ArrayList<>(List.of(whole));
    if (read.field().type() == Type.GROUP) {
      placed.keySet().stream().filter(it -> it.startsWith(whole + ".")).forEach(found::add);
    }
    return found;
  }
}
