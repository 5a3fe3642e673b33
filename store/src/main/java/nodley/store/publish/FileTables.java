package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Sql;

/**
 * What SQL shows of the files of a form: a view for each field of files, named as tables of rows
 * are, {@code visit.insurance}, with a row for each file that a record has now.
 */
final class FileTables {

  private FileTables() {}

  /** Makes the views of a form that was published, and drops those that it no longer has. */
  static void follow(Connection on, Form form) throws SQLException {
    drop(on, form.name());
    for (Form.Placed placed : form.everyField()) {
      if (placed.field().type() == Type.FILE) {
        Sql.run(
            on,
            "CREATE VIEW %s AS SELECT record_id, row_id, file_number, name, type, size, sha256"
                    .formatted(Sql.quoted(form.name() + "." + placed.dotted()))
                + " FROM nodley_record_files WHERE form = '%s' AND field = '%s' AND is_current = 1"
                    .formatted(form.name(), placed.dotted()));
      }
    }
  }

  /** Drops the views of a form. */
  static void drop(Connection on, String form) throws SQLException {
    for (String view : Catalog.under(on, Catalog.Kind.VIEW, form)) {
      Sql.run(on, "DROP VIEW " + Sql.quoted(view));
    }
  }
}
