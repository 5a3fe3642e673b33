package nodley.core.file;

import java.util.Collection;
import java.util.Optional;
import nodley.core.expression.Names;

/** Symbol table that is nested in another: an option's own names first, then those of the form. */
record NestedNames(Names own, Names around) implements Names {

  @Override
  public Optional<Found> find(String name) {
    return own.find(name);
  }

  @Override
  public Collection<String> all() {
    return own.all();
  }

  @Override
  public Optional<Names> outer() {
    return Optional.of(around);
  }
}
