package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.function.Function;
import nodley.core.form.Access;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.value.Raw;
import nodley.core.value.Values;
import nodley.service.problem.Problem;

/** Tells what a form's {@code access} lets a caller do, and why a call is rejected. */
public final class Authorization {

  private Authorization() {}

  /** True if the form's {@code access.add} lets the caller add records. */
  public static boolean mayAdd(Caller caller, Form form) {
    return may(caller, form, Access::add);
  }

  /** True if the form's {@code access.see} lets the caller read records. */
  public static boolean maySee(Caller caller, Form form) {
    return may(caller, form, Access::see);
  }

  /** True if the form's {@code access.edit} lets the caller edit records. */
  public static boolean mayEdit(Caller caller, Form form) {
    return may(caller, form, Access::edit);
  }

  /** True if a page may show what is to be edited. */
  public static boolean mayEditSeen(Caller caller, Form form) {
    return maySee(caller, form) && mayEdit(caller, form);
  }

  /** Whoever may add, see or edit may have the description. */
  public static boolean mayUse(Caller caller, Form form) {
    return mayAdd(caller, form) || maySee(caller, form) || mayEdit(caller, form);
  }

  /**
   * True if one of the rights of a form is open to the caller.
   *
   * @param what picks the right, such as {@code Access::remove}
   */
  public static boolean may(Caller caller, Form form, Function<Access, Access.Who> what) {
    return switch (what.apply(form.access())) {
      case ANYONE -> caller instanceof Caller.Stranger || caller.isKnown();
      case SIGNED_IN -> caller.isKnown();
    };
  }

  /** What a caller is told of some values: what no page has is for programs alone. */
  public static Values told(Caller caller, Fields fields, Values values) {
    return isProgram(caller) ? values : fields.onPages(values);
  }

  /** Returns the values that a caller may read, as {@link #told(Caller, Fields, Values)} does. */
  public static Raw.Members told(Caller caller, Fields fields, Raw.Members values) {
    return isProgram(caller) ? values : fields.onPages(values);
  }

  /** True if a caller may name a field of a form, as in a condition on its records. */
  public static boolean mayName(Caller caller, Field field) {
    return isProgram(caller) || field.isOnPages();
  }

  /** True for a program that shows its key itself, as no page does. */
  public static boolean isProgram(Caller caller) {
    return caller instanceof Caller.Known known && known.program();
  }

  /** The problem that says why a call of this caller is rejected. */
  public static Problem refusal(Caller caller) {
    return switch (caller) {
      case Caller.Stranger _ ->
          Problem.notSignedIn("Sign in, or send a key: Authorization: Bearer KEY.");
      case Caller.UnknownKey _ ->
          Problem.notSignedIn("The key in the Authorization header is not known here.");
      case Caller.CrossSiteRequest _ ->
          Problem.of(
              403,
              "cross-site",
              "Cross-site request blocked (CSRF protection)",
              "Session cookies are accepted only from this service's own origin (Sec-Fetch-Site,"
                  + " else Origin). Programs send Authorization: Bearer KEY.");
      case Caller.Known _ ->
          Problem.of(403, "not-allowed", "You may not do this", "This needs another role.");
    };
  }

  /** Signing in counts only from a page of this service: nobody is signed in by another's hand. */
  public static void passSameOrigin(HttpServletRequest request) {
    if (Origins.isForeignChange(request)) {
      throw refusal(new Caller.CrossSiteRequest(List.of()));
    }
  }
}
