package nodley.store.record;

import java.util.Optional;
import nodley.core.form.Form;
import nodley.store.common.StoreException;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * Whose records are. Adding one sets its owner ({@link RecordWriter#add}); handing it over is no
 * edit. Thread-safe; writing blocks until the commit.
 */
public final class Owners {

  private final Database database;
  private final BatchWriter writer;

  /** Opens the owners of a store's records. */
  public Owners(Database database, BatchWriter writer) {
    this.database = database;
    this.writer = writer;
  }

  /** Returns whether a record is there, or was removed and can be put back, and is a person's. */
  public boolean owns(String person, Form form, String id) {
    return database
        .read(
            on -> {
              Optional<String> owner =
                  Sql.first(
                      on,
                      row -> row.getString(1),
                      "SELECT \"owner__id\" FROM " + Sql.quoted(form.name()) + " WHERE \"id\" = ?",
                      id);
              return owner.isPresent() ? owner : RemovedRecords.owner(on, form, id);
            })
        .filter(person::equals)
        .isPresent();
  }

  /**
   * Hands a record over. Its version stays.
   *
   * @param owner the id of a person; empty for nobody
   * @return false if each person has one record, and this one has theirs already
   * @throws StoreException.NoSuchRecord if it is gone
   */
  public boolean handOver(Form form, String id, String owner) {
    String table = Sql.quoted(form.name());
    return writer.write(
        on -> {
          boolean has =
              form.isOneEach()
                  && !owner.isEmpty()
                  && Sql.number(
                          on,
                          "SELECT count(*) FROM "
                              + table
                              + " WHERE \"owner__id\" = ? AND \"id\" <> ?",
                          owner,
                          id)
                      > 0;
          if (has) {
            return false;
          }
          int changed =
              Sql.run(on, "UPDATE " + table + " SET \"owner__id\" = ? WHERE \"id\" = ?", owner, id);
          if (changed == 0) {
            throw new StoreException.NoSuchRecord(id);
          }
          return true;
        });
  }
}
