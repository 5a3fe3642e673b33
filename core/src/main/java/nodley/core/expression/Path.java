package nodley.core.expression;

import java.util.List;

/**
 * Path to a field, from an expression or from the form: names of the groups and rows around it, and
 * the index of each among its siblings, so that evaluation needs no lookup by name.
 */
public final class Path {

  private final List<String> names;
  private final int[] places;

  /**
   * The way along these names.
   *
   * @param places where each stands among its neighbours, counted from 0
   */
  public Path(List<String> names, List<Integer> places) {
    this.names = List.copyOf(names);
    this.places = places.stream().mapToInt(Integer::intValue).toArray();
  }

  /** Returns the names on the way, the outermost first. */
  public List<String> names() {
    return names;
  }

  /** How many names there are. */
  public int length() {
    return places.length;
  }

  /** Where the field of this name stands among its neighbours, counted from 0. */
  public int place(int index) {
    return places[index];
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Path path && names.equals(path.names);
  }

  @Override
  public int hashCode() {
    return names.hashCode();
  }

  @Override
  public String toString() {
    return String.join(".", names);
  }
}
