package nodley.store.care;

import java.util.List;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * What waits to be finished, by form: counts and times, nothing of what is in it. Times are in
 * milliseconds since 1970.
 */
public record Unfinished(List<FormDrafts> drafts, List<FormUploads> uploads) {

  /**
   * Drafts of a form.
   *
   * @param oldest when the one was changed that was not changed for the longest time
   * @param nextEnd when the first of them goes, if nobody changes it
   */
  public record FormDrafts(String form, long count, long oldest, long nextEnd) {}

  /**
   * Files that no record has taken over.
   *
   * @param bytes that they are to have, whether or not all have come
   * @param nextEnd when the first of them goes
   */
  public record FormUploads(String form, long count, long bytes, long nextEnd) {}

  /** Counts it; blocks while it reads. */
  public static Unfinished of(Database database) {
    return database.snapshot(
        on ->
            new Unfinished(
                Sql.list(
                    on,
                    row ->
                        new FormDrafts(
                            row.getString(1), row.getLong(2), row.getLong(3), row.getLong(4)),
                    "SELECT form, count(*), min(updated_at), min(ends_at) FROM nodley_drafts"
                        + " GROUP BY form ORDER BY form"),
                Sql.list(
                    on,
                    row ->
                        new FormUploads(
                            row.getString(1), row.getLong(2), row.getLong(3), row.getLong(4)),
                    "SELECT form, count(*), sum(size), min(ends_at) FROM nodley_uploads"
                        + " GROUP BY form ORDER BY form")));
  }
}
