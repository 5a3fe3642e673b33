package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.service.problem.Problem;
import nodley.store.Store;

/**
 * The signed name of an open page, which may hold unique values of one form. Signed, so that nobody
 * can hold values under invented names.
 */
public final class OpenPage {

  private static final String PURPOSE = "page";

  private OpenPage() {}

  /** A name for a page that has just been opened. */
  public static String named(Store store, Form form, String id) {
    return store.tokens().seal(PURPOSE, form.name() + " " + id);
  }

  /** The page that a request comes from, as its query tells; empty if it does not. */
  public static String of(HttpServletRequest request, Store store, Form form) {
    // Without a query there is nothing to read, and most requests have none.
    Optional<String> sealed =
        request.getQueryString() == null
            ? Optional.empty()
            : Query.of(request, "fields", "record", "page", "hold", "draft").get("page");
    return sealed.map(it -> id(it, store, form)).orElse("");
  }

  /**
   * Returns the name of a page from its signed form.
   *
   * @throws Problem 400 if it was not signed here, or for a page of another form
   */
  public static String id(String sealed, Store store, Form form) {
    return store
        .tokens()
        .open(PURPOSE, sealed)
        .filter(it -> it.startsWith(form.name() + " "))
        .map(it -> it.substring(form.name().length() + 1))
        .orElseThrow(
            () ->
                Problem.badQuery(
                    "\"page\" is what POST /api/holds?form="
                        + form.name()
                        + " answers, and this is not."));
  }

  /** True if a check is to hold what is free; only a page that was named can. */
  public static boolean wantsHold(Query query) {
    Optional<String> hold = query.get("hold");
    if (hold.filter(it -> !it.equals("true")).isPresent()) {
      throw Problem.badQuery("\"hold\" is true, or left out.");
    }
    if (hold.isPresent() && query.get("page").isEmpty()) {
      throw Problem.badQuery("Values are held for a page only: \"page\" is missing.");
    }
    return hold.isPresent();
  }
}
