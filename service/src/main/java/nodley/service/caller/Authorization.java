package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.Function;
import nodley.core.form.Access;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.value.Raw;
import nodley.core.value.Values;
import nodley.service.problem.Problem;
import nodley.store.access.Key;
import nodley.store.access.Roles;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;

/** Tells what a form's {@code access} lets a caller do, and why a call is rejected. */
public final class Authorization {

  /** Is no person's id. */
  private static final String NO_OWNER = "none";

  private Authorization() {}

  /** True if the form's {@code access.add} lets the caller add records: their own, if to owners. */
  public static boolean mayAdd(Caller caller, Form form) {
    return may(caller, form, Access::add) || mayOwn(caller, form, Access::add);
  }

  /** True if the form's {@code access.see} lets the caller read all records. */
  public static boolean maySee(Caller caller, Form form) {
    return may(caller, form, Access::see);
  }

  /** True if the form's {@code access.edit} lets the caller edit all records. */
  public static boolean mayEdit(Caller caller, Form form) {
    return may(caller, form, Access::edit);
  }

  /** True if a page may show what is to be edited. */
  public static boolean mayEditSeen(Caller caller, Form form) {
    return maySee(caller, form) && mayEdit(caller, form);
  }

  /** Whoever may add, see or edit may have the description; and so may authors. */
  public static boolean mayUse(Caller caller, Form form) {
    return mayAdd(caller, form)
        || maySeeSome(caller, form)
        || mayEdit(caller, form)
        || mayOwn(caller, form, Access::edit)
        || isAuthor(caller, form.name());
  }

  /** True for a caller who may write the form file of a form. */
  public static boolean isAuthor(Caller caller, String form) {
    return caller instanceof Caller.Known known && known.has(Roles.AUTHOR) && known.isFor(form);
  }

  /** True if one of the rights of a form is the caller's for records that they own. */
  public static boolean mayOwn(Caller caller, Form form, Function<Access, Access.Who> what) {
    return !caller.person().isEmpty() && what.apply(form.access()).isOwner();
  }

  /** True if one of the rights of a form is the caller's for a record. */
  public static boolean may(
      Caller caller, Form form, Function<Access, Access.Who> what, StoredRecord record) {
    return may(caller, form, what)
        || mayOwn(caller, form, what) && record.owner().equals(caller.person());
  }

  /** True if the caller may read all records of a form, or their own. */
  public static boolean maySeeSome(Caller caller, Form form) {
    return maySee(caller, form) || mayOwn(caller, form, Access::see);
  }

  /**
   * Returns the owner whose records alone a caller may read; empty if that is everybody. For a
   * caller who may read none it is an owner who has none.
   */
  public static Optional<String> visibleOwner(Caller caller, Form form) {
    if (maySee(caller, form)) {
      return Optional.empty();
    }
    return Optional.of(mayOwn(caller, form, Access::see) ? caller.person() : NO_OWNER);
  }

  /**
   * True if one of the rights of a form is open to the caller, for all records.
   *
   * @param what picks the right, such as {@code Access::remove}
   */
  public static boolean may(Caller caller, Form form, Function<Access, Access.Who> what) {
    return isGiven(caller, form.name(), what.apply(form.access()));
  }

  private static boolean isGiven(Caller caller, String form, Access.Who who) {
    return switch (caller) {
      case Caller.Stranger _ -> who.isAnyone();
      case Caller.Known known ->
          who.isAnyone()
              || known.isFor(form) && (known.has(Roles.ADMIN) || who.isGivenTo(known.roles()));
      case Caller.InvalidToken _, Caller.CrossSiteRequest _ -> false;
    };
  }

  /** A form as a caller has it: in their language, without the fields that they may not see. */
  public static PublishedForm seen(PublishedForm form, Caller caller) {
    return form.in(caller.languages()).seenBy(who -> isGiven(caller, form.name(), who));
  }

  /** What a caller is told of some values: what no page has is for programs alone. */
  public static Values told(Caller caller, Fields fields, Values values) {
    return isProgram(caller) ? fields.known(values) : fields.onPages(values);
  }

  /**
   * Returns the values that a caller may read, as {@link #told(Caller, Fields, Values)} does. Of a
   * field that the form has no longer nobody can tell whom it was for, so admins alone are told.
   */
  public static Raw.Members told(Caller caller, Fields fields, Raw.Members values) {
    Raw.Members told = isProgram(caller) ? fields.known(values) : fields.onPages(values);
    boolean isAdmin = caller instanceof Caller.Known known && known.has(Roles.ADMIN);
    return isAdmin ? told : fields.declared(told);
  }

  /**
   * True if a caller may name a field, as in a condition on records.
   *
   * @param form the form, to which a key may not be limited otherwise
   */
  public static boolean mayName(Caller caller, String form, Field field) {
    return (isProgram(caller) || field.isOnPages())
        && field.access().see().map(who -> isGiven(caller, form, who)).orElse(true);
  }

  /** True for a program that shows its key itself, as no page does. */
  public static boolean isProgram(Caller caller) {
    return caller instanceof Caller.Known known && known.program();
  }

  /** True for a key with which passes can be made. */
  public static boolean mayVouch(Key key) {
    return key.roles().contains(Roles.VOUCH) || key.roles().contains(Roles.ADMIN);
  }

  /** The problem that says why a call that needs a right to a form is rejected. */
  public static Problem refusal(Caller caller, Form form) {
    return rejected(
        caller,
        caller instanceof Caller.Known known && !known.isFor(form.name())
            ? credential(known) + " is for other forms: " + sorted(known.forms()) + "."
            : "The form does not give you this.");
  }

  private static String credential(Caller.Known known) {
    return known.person().isEmpty() ? "The key " + known.name() : "The pass";
  }

  /** The problem that says why a call that needs a role is rejected. */
  public static Problem refusal(Caller caller, String role) {
    return rejected(
        caller,
        caller instanceof Caller.Known known && known.has(role)
            ? roleIsNotEnough(known)
            : "This needs the role " + role + ".");
  }

  private static String roleIsNotEnough(Caller.Known known) {
    return known.forms().isEmpty()
        ? "Programs alone may do this: send the key itself, Authorization: Bearer KEY."
        : credential(known) + " is for some forms only: " + sorted(known.forms()) + ".";
  }

  private static String sorted(Collection<String> names) {
    return String.join(", ", new TreeSet<>(names));
  }

  private static Problem rejected(Caller caller, String ofKnown) {
    return switch (caller) {
      case Caller.Stranger _ ->
          Problem.notSignedIn("Sign in, or send a key: Authorization: Bearer KEY.");
      case Caller.InvalidToken token -> Problem.notSignedIn(token.reason());
      case Caller.CrossSiteRequest _ ->
          Problem.of(
              403,
              "cross-site",
              "Cross-site request blocked (CSRF protection)",
              "Session cookies are accepted only from this service's own origin (Sec-Fetch-Site,"
                  + " else Origin). Programs send Authorization: Bearer KEY.");
      case Caller.Known known ->
          Problem.of(
              403,
              "not-allowed",
              "You may not do this",
              ofKnown
                  + (known.roles().isEmpty()
                      ? " You have no role."
                      : " Your roles: " + sorted(known.roles()) + "."));
    };
  }

  /** Signing in counts only from a page of this service: nobody is signed in by another's hand. */
  public static void passSameOrigin(HttpServletRequest request) {
    if (Origins.isForeignChange(request)) {
      throw rejected(new Caller.CrossSiteRequest(List.of()), "");
    }
  }
}
