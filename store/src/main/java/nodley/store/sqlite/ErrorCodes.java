package nodley.store.sqlite;

import java.sql.SQLException;
import org.sqlite.SQLiteErrorCode;
import org.sqlite.SQLiteException;

/** Says what an {@link SQLException} of SQLite means (sqlite.org/rescode.html). */
public final class ErrorCodes {

  private static final int PRIMARY = 0xff;

  private ErrorCodes() {}

  /** True if a row violates a constraint: NOT NULL, a unique index, a reference. */
  public static boolean isConstraint(SQLException e) {
    return e instanceof SQLiteException sqlite
        && (sqlite.getResultCode().code & PRIMARY) == SQLiteErrorCode.SQLITE_CONSTRAINT.code;
  }

  /** True if a row that others refer to was to be removed, or one refers to a row that is gone. */
  public static boolean isReference(SQLException e) {
    return is(e, SQLiteErrorCode.SQLITE_CONSTRAINT_FOREIGNKEY);
  }

  /** True if a file is not a database of SQLite. */
  public static boolean isForeignFile(SQLException e) {
    return is(e, SQLiteErrorCode.SQLITE_NOTADB);
  }

  /** True if a statement names a table, column or index that does not exist. */
  static boolean isUnknownName(SQLException e) {
    return is(e, SQLiteErrorCode.SQLITE_ERROR) && e.getMessage().contains("no such ");
  }

  /** True if a statement was interrupted, by its own limit of time or by another thread. */
  static boolean isInterrupted(SQLException e) {
    return is(e, SQLiteErrorCode.SQLITE_INTERRUPT);
  }

  private static boolean is(SQLException e, SQLiteErrorCode code) {
    return e instanceof SQLiteException sqlite && sqlite.getResultCode() == code;
  }
}
