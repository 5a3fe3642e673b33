package nodley.core.file;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;

/**
 * Symbol table of names that have one value each: marks of an option, parameters of a part.
 *
 * @param around the names further out
 */
record ExpressionTypeNames(Map<String, ExpressionType> kinds, Optional<Names> around)
    implements Names {

  ExpressionTypeNames {
    kinds = new LinkedHashMap<>(kinds);
  }

  @Override
  public Optional<Found> find(String name) {
    int place = List.copyOf(kinds.keySet()).indexOf(name);
    return Optional.ofNullable(kinds.get(name))
        .map(kind -> new Found(kind, place, Optional.empty(), Optional.empty(), false, true));
  }

  @Override
  public Collection<String> all() {
    return kinds.keySet();
  }

  @Override
  public Optional<Names> outer() {
    return around;
  }
}
