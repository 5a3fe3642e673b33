package nodley.service.problem;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Set;
import nodley.core.file.FormFileError;
import nodley.store.common.OnceAMinute;
import nodley.store.common.StoreException;
import org.apache.catalina.connector.ClientAbortException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.web.firewall.RequestRejectedException;
import org.springframework.web.HttpRequestMethodNotSupportedException;
import org.springframework.web.bind.annotation.ControllerAdvice;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.context.request.async.AsyncRequestNotUsableException;
import org.springframework.web.servlet.resource.NoResourceFoundException;

/**
 * Converts exceptions into problems. An unexpected one is a 500 and is logged with its stack trace.
 */
@ControllerAdvice
public class Problems {

  private static final Logger LOG = LoggerFactory.getLogger(Problems.class);
  private static final String RETRY_SECONDS = "1";

  private static final OnceAMinute UNAVAILABLE = new OnceAMinute();

  private final ProblemWriter writer;

  /** The errors of one of several files. */
  private record FileErrors(String file, List<FormFileError> errors) {}

  Problems(ProblemWriter writer) {
    this.writer = writer;
  }

  /**
   * Answers an exception with the problem that it is, or with 500; does nothing if the client has
   * gone.
   */
  @ExceptionHandler
  public void tell(Exception e, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    if (!isOfClientGone(e)) {
      writer.write(problem(e, request), request, response);
    }
  }

  /** True if there is nobody left to answer: the client has hung up, or reads nothing. */
  private static boolean isOfClientGone(Exception e) {
    return e instanceof AsyncRequestNotUsableException || e instanceof ClientAbortException;
  }

  private static Problem problem(Exception e, HttpServletRequest request) {
    return switch (e) {
      case Problem problem -> problem;
      case StoreException.Unavailable unavailable -> {
        // While the disk is full every submission ends here.
        if (UNAVAILABLE.isDue()) {
          LOG.error("{} {}", request.getMethod(), request.getRequestURI(), unavailable);
        }
        yield of(unavailable);
      }
      case StoreException store -> of(store);
      case RequestRejectedException _ ->
          Problem.of(
              400,
              "bad-request",
              "The request cannot be read",
              "A header has characters in it that a header may not have.");
      case NoResourceFoundException _ -> Problem.notFound(request.getRequestURI());
      case HttpRequestMethodNotSupportedException method ->
          Problem.notAllowedMethod(
              method.getMethod(),
              method.getSupportedHttpMethods() == null
                  ? Set.of()
                  : method.getSupportedHttpMethods().stream()
                      .map(Object::toString)
                      .sorted()
                      .toList());
      default -> {
        LOG.error("{} {} failed", request.getMethod(), request.getRequestURI(), e);
        yield Problem.of(
            500,
            "failed",
            "This is our fault",
            "Something went wrong inside. The service's log names it by the X-Request-Id of this"
                + " reply.");
      }
    };
  }

  /** What is told of something that the store could not do. */
  public static Problem of(StoreException e) {
    return switch (e) {
      case StoreException.NoSuchRecord gone ->
          Problem.of(404, "no-such-record", "There is no such record", gone.getMessage());
      case StoreException.NoForm none ->
          Problem.of(404, "no-such-form", "There is no such form", none.getMessage());
      case StoreException.StillReferred referred ->
          Problem.of(
                  409,
                  "still-referred",
                  "Other records refer to this one",
                  "It cannot be removed while these refer to it.")
              .with("records", referred.referrers());
      case StoreException.CannotPutBack it ->
          Problem.of(409, "cannot-restore", "The record cannot be put back", it.getMessage());
      case StoreException.MigrationConflict against ->
          Problem.of(
                  409,
                  "records-stand-against",
                  against.isForceable()
                      ? "Stored records violate the new rules"
                      : "Stored records conflict with this form file",
                  String.join(
                          " ",
                          against.objections().stream()
                              .map(StoreException.Objection::toString)
                              .toList())
                      + (against.isForceable()
                          ? " Use ?force=rules (nodley publish --force rules) to apply the rules to"
                              + " new submissions and edits only."
                          : ""))
              .with("objections", against.objections());
      case StoreException.BadFiles bad ->
          Problem.of(422, "form-file", "Files have errors", "Nothing was published.")
              .with(
                  "files",
                  bad.errors().entrySet().stream()
                      .map(file -> new FileErrors(file.getKey(), file.getValue()))
                      .toList());
      case StoreException.Breaks breaks ->
          Problem.of(
                  409,
                  "in-use",
                  "Forms use it",
                  "Nothing was changed, for these forms could not be read any more: "
                      + String.join(", ", breaks.forms().keySet())
                      + ".")
              .with("forms", breaks.forms());
      case StoreException.StillThere there ->
          Problem.of(409, "still-there", "The form has this field", there.getMessage());
      case StoreException.HasRecords has ->
          Problem.of(409, "has-records", "The form has records", has.getMessage());
      case StoreException.KeyReused reused ->
          Problem.of(
              422, "key-reused", "The key stands for another submission", reused.getMessage());
      case StoreException.AlreadyAnswered answered -> unavailable("busy", answered);
      case StoreException.Busy busy -> unavailable("busy", busy);
      case StoreException.TookTooLong slow -> unavailable("too-costly", slow);
      case StoreException.Unavailable unavailable -> unavailable("unavailable", unavailable);
      case StoreException.FormChanged changed -> unavailable("busy", changed);
      case StoreException.Republished changed ->
          Problem.of(412, "outdated", "Somebody published it since", changed.getMessage());
      case StoreException.Outdated outdated ->
          Problem.of(412, "outdated", "Somebody changed the record since", outdated.getMessage());
      case StoreException.BadFolder bad -> unavailable("unavailable", bad);
    };
  }

  private static Problem unavailable(String type, StoreException e) {
    return Problem.of(503, type, "Try again shortly", e.getMessage())
        .header("Retry-After", RETRY_SECONDS);
  }
}
