package nodley.core.file;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;

/**
 * The columns of somebody else's table, for {@code where}, and the fields around them. Which
 * columns there are need not be known: a name that no column has is looked for among the fields
 * when the expression is evaluated.
 */
record SourceNames(Names around) implements Names {

  /** Names that expressions have already. */
  private static final Set<String> GIVEN = Set.of("mode", "caller", "form");

  @Override
  public Optional<Found> find(String name) {
    if (GIVEN.contains(name)) {
      return Optional.empty();
    }
    // A field keeps its place, so that it is found where there is no such column.
    Optional<Found> field = around.find(name);
    return Optional.of(
        new Found(
            field
                .filter(it -> it.inside().isPresent())
                .map(Found::kind)
                .orElse(ExpressionType.of(ExpressionType.Base.ANYTHING)),
            field.map(Found::place).orElse(0),
            field.flatMap(Found::inside),
            field.flatMap(Found::refersTo),
            field.map(Found::secret).orElse(false),
            false));
  }

  @Override
  public Collection<String> all() {
    return List.of();
  }

  @Override
  public Optional<Names> outer() {
    return Optional.of(around);
  }
}
