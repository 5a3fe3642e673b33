package nodley.service.access;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.service.attempt.AttemptLog;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Query;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.service.upload.Tus;
import nodley.store.Store;
import nodley.store.access.Roles;
import nodley.store.form.PublishedForm;
import nodley.store.record.Owners;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.HandlerMapping;

/**
 * Checks that a caller has the right that a mapping {@link Needs}, before the mapping is called.
 * The one place that compares callers with rights: for the wire, pages, console, and the shorter
 * way of adds and checks alike. Thread-safe.
 */
@Component
public final class AccessCheck {

  private final Submissions submissions;
  private final AttemptLog log;
  private final Owners owners;

  AccessCheck(Store store, Submissions submissions, AttemptLog log) {
    this.owners = store.owners();
    this.submissions = submissions;
    this.log = log;
  }

  /**
   * Returns the right that a method of a controller declares, for calls that do not come through
   * Spring's dispatcher.
   *
   * @throws IllegalStateException if there is no such method, or if it declares none
   */
  public static Right declared(Class<?> controller, String method) {
    return Arrays.stream(controller.getDeclaredMethods())
        .filter(it -> it.getName().equals(method))
        .flatMap(it -> Optional.ofNullable(it.getAnnotation(Needs.class)).stream())
        .findFirst()
        .map(Needs::value)
        .orElseThrow(() -> new IllegalStateException(controller + "." + method + " needs nothing"));
  }

  /**
   * Checks a right to a form, and returns the form in the caller's language. A refused submission
   * is counted and logged among the attempts.
   *
   * @throws Problem 404 if there is no such form; 401 or 403 if the caller lacks the right; 429 if
   *     a stranger sends too many
   */
  public PublishedForm form(String name, Right right, HttpServletRequest request)
      throws IOException {
    Caller caller = Caller.current();
    PublishedForm form = submissions.form(name, caller);
    boolean ofRecord = right.isOfRecordInQuery() && Query.first(request, "record").isPresent();
    if (right.allows(caller, form.form(), ofRecord)) {
      return form;
    }
    Problem refusal = Authorization.refusal(caller, form.form());
    if (right.allowsOwn(caller, form.form(), ofRecord)) {
      Optional<String> record = ofRecord ? Query.first(request, "record") : variable(request, "id");
      if (record.isEmpty()
          ? right.isOfList() || form.form().isOneEach()
          : owners.owns(caller.person(), form.form(), record.get())) {
        return form;
      }
      if (record.isPresent() && !Authorization.maySee(caller, form.form())) {
        // That it is there is not theirs to know.
        refusal = Problem.noSuchRecord(form.name(), record.get());
      }
    }
    throw refused(right, form, request, refusal);
  }

  /**
   * Returns whether the caller has a right to a form.
   *
   * @param record the id of the record that it is about; empty for none
   */
  public boolean allows(Right right, Form form, Optional<String> record) {
    Caller caller = Caller.current();
    return right.allows(caller, form, record.isPresent())
        || record.isPresent()
            && right.allowsOwn(caller, form, true)
            && owners.owns(caller.person(), form, record.get());
  }

  private Problem refused(
      Right right, PublishedForm form, HttpServletRequest request, Problem refusal)
      throws IOException {
    if (right == Right.CHECK) {
      return log.followCheck(
          request,
          form,
          _ -> {
            throw refusal;
          });
    }
    if (isChange(request) && !right.attempt().isEmpty()) {
      return log.follow(
          request,
          form,
          right.attempt(),
          _ -> {
            throw refusal;
          });
    }
    return refusal;
  }

  /** Checks what a mapping needs, and returns the form where that is a right to a form. */
  Optional<PublishedForm> check(Right right, HttpServletRequest request) throws IOException {
    if (right.isOfForm()) {
      return Optional.of(form(formName(request), right, request));
    }
    Caller caller = Caller.current();
    switch (right) {
      case NO_INVALID_TOKEN -> {
        if (caller instanceof Caller.InvalidToken || caller instanceof Caller.CrossSiteRequest) {
          throw Authorization.refusal(caller, "");
        }
      }
      case SAME_ORIGIN -> Authorization.passSameOrigin(request);
      case SIGNED_IN -> {
        if (!caller.isKnown()) {
          throw Authorization.refusal(caller, "");
        }
      }
      case AUTHOR -> checkAuthor(request);
      case REMOVE_FORM -> {
        if (Query.first(request, "records").isPresent()) {
          checkRole(Roles.ADMIN);
        } else {
          checkAuthor(request);
        }
      }
      case OPERATOR -> checkRole(Roles.OPERATOR);
      case ADMIN -> checkRole(Roles.ADMIN);
      case VOUCH -> {
        if (!(caller instanceof Caller.Known known && known.program() && known.has(Roles.VOUCH))) {
          throw Authorization.refusal(caller, Roles.VOUCH);
        }
      }
      default -> {}
    }
    return Optional.empty();
  }

  /**
   * What is of no form alone is not for a key that is limited to some. A form in the query counts
   * for reads alone, which tell of that form only; a change is of what its path says.
   */
  private static void checkAuthor(HttpServletRequest request) {
    Caller caller = Caller.current();
    Optional<String> form = isChange(request) ? formInPath(request) : namedForm(request);
    if (form.isEmpty()) {
      checkRole(Roles.AUTHOR);
    } else if (!Authorization.isAuthor(caller, form.get())) {
      throw Authorization.refusal(caller, Roles.AUTHOR);
    }
  }

  private static void checkRole(String role) {
    Caller caller = Caller.current();
    if (!(caller instanceof Caller.Known known && known.has(role) && known.forms().isEmpty())) {
      throw Authorization.refusal(caller, role);
    }
  }

  private static String formName(HttpServletRequest request) {
    return namedForm(request)
        .orElseThrow(() -> Problem.badQuery("\"form\" is missing: the form that this is about."));
  }

  private static boolean isChange(HttpServletRequest request) {
    return !List.of("GET", "HEAD").contains(request.getMethod());
  }

  private static Optional<String> namedForm(HttpServletRequest request) {
    return formInPath(request).or(() -> Query.first(request, "form")).or(() -> Tus.form(request));
  }

  private static Optional<String> formInPath(HttpServletRequest request) {
    return variable(request, "form");
  }

  /** A variable of the path of a call that comes through Spring's dispatcher. */
  private static Optional<String> variable(HttpServletRequest request, String name) {
    if (request.getAttribute(HandlerMapping.URI_TEMPLATE_VARIABLES_ATTRIBUTE)
            instanceof Map<?, ?> variables
        && variables.get(name) instanceof String value) {
      return Optional.of(value);
    }
    return Optional.empty();
  }
}
