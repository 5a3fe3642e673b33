package nodley.store.access;

import java.util.List;

/** The roles that Nodley itself gives a meaning to; all others are for forms to name. */
public final class Roles {

  /** May do everything. */
  public static final String ADMIN = "admin";

  /** Writes form files, lists, parts, themes and texts, and reads attempts. */
  public static final String AUTHOR = "author";

  /** Runs the service: backups and the operator's log. */
  public static final String OPERATOR = "operator";

  /** Makes passes for people; a role of keys. */
  public static final String VOUCH = "vouch";

  public static final List<String> BUILT_IN = List.of(ADMIN, AUTHOR, OPERATOR, VOUCH);

  private Roles() {}
}
