package nodley.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;

/**
 * Fields that go on under another name: their columns and tables are renamed, and what is kept of
 * them in earlier versions of records too. A form that goes back to a revision from before a {@code
 * was} has its field renamed back.
 */
final class Renames {

  private final Following following;
  private final Connection on;
  private final String form;

  Renames(Following following) {
    this.following = following;
    this.on = following.on();
    this.form = following.form().name();
  }

  void follow(Form earlier) throws SQLException {
    for (Form.Placed placed : following.form().everyField()) {
      if (earlier.fields().find(following.before(placed.path())).isEmpty()) {
        Optional<List<String>> from = from(placed, earlier);
        if (from.isPresent() && isThere(from.get())) {
          rename(new Rename(from.get(), placed.path()));
        }
      }
    }
    for (Form.Placed placed : earlier.everyField()) {
      List<String> from = now(placed.path());
      Optional<List<String>> to = placed.field().source().was().map(was -> beside(from, was));
      boolean back =
          to.isPresent()
              && following.form().fields().find(from).isEmpty()
              && following.form().fields().find(to.get()).isPresent()
              && !isThere(to.get());
      if (back) {
        rename(new Rename(from, to.get()));
      }
    }
  }

  /** Where a field was before: as it says itself, or under the same name in other letters. */
  private Optional<List<String>> from(Form.Placed placed, Form earlier) {
    Optional<String> was = placed.field().source().was();
    if (was.isPresent()) {
      return was.map(name -> beside(placed.path(), name));
    }
    List<String> before = following.before(placed.path());
    return earlier.everyField().stream()
        .map(Form.Placed::path)
        .filter(it -> String.join(".", it).equalsIgnoreCase(String.join(".", before)))
        .findFirst()
        .map(it -> beside(placed.path(), it.getLast()));
  }

  private List<String> now(List<String> path) {
    List<String> now = path;
    for (Rename rename : following.renames()) {
      now = rename.forth(now);
    }
    return now;
  }

  private static List<String> beside(List<String> path, String name) {
    List<String> beside = new ArrayList<>(path.subList(0, path.size() - 1));
    beside.add(name);
    return beside;
  }

  private boolean isThere(List<String> path) throws SQLException {
    return !Columns.under(on, form, path).isEmpty();
  }

  private void rename(Rename rename) throws SQLException {
    String from = String.join(".", rename.from());
    String to = String.join(".", rename.to());
    List<Columns.Found> inTheWay = Columns.under(on, form, rename.to());
    long kept = Retired.values(on, inTheWay);
    if (kept > 0) {
      following.object(
          to,
          "An earlier field `%s` is retired, and still has %s; `nodley form %s --forget %s` makes room."
              .formatted(to, Retired.words(kept), form, to),
          List.of(),
          kept);
      return;
    }
    if (!inTheWay.isEmpty()) {
      Retired.drop(on, form, rename.to());
    }
    Columns.rename(on, form, rename);
    Versions.rename(on, form, rename);
    Retired.rename(on, form, rename);
    following.renames().add(rename);
    following.changed(to, TableChange.Kind.RENAMED, "`%s` is `%s` now.".formatted(from, to));
  }
}
