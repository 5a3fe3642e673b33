package nodley.service.problem;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import nodley.core.file.FormFileException;
import nodley.core.name.Near;
import nodley.core.submission.Verdict;
import nodley.core.value.Wellformed;

/**
 * A problem (RFC 9457), thrown where it is found. {@code type} is a path below {@code /problems/};
 * {@link #with} adds extension members. Without a stack trace: it is an answer, not a fault.
 */
public final class Problem extends RuntimeException {

  private static final long serialVersionUID = 1;

  private final int status;
  private final transient Map<String, Object> members = new LinkedHashMap<>();
  private final transient Map<String, String> headers = new LinkedHashMap<>();

  private Problem(int status, String type, String title, String detail) {
    super(title, null, false, false);
    this.status = status;
    members.put("type", "/problems/" + type);
    members.put("title", title);
    members.put("status", status);
    if (!detail.isEmpty()) {
      members.put("detail", detail);
    }
  }

  /**
   * A problem (RFC 9457).
   *
   * @param type the last part of its address, which has a page at {@code /problems/TYPE}
   * @param detail a sentence for the person or developer: what is wrong, and what would be right
   */
  public static Problem of(int status, String type, String title, String detail) {
    return new Problem(status, type, title, detail);
  }

  /** Adds a member to the body; returns this. */
  public Problem with(String member, Object value) {
    members.put(member, value);
    return this;
  }

  /** Adds a header to the reply; returns this. */
  public Problem header(String name, String value) {
    headers.put(name, value);
    return this;
  }

  /** Returns the status code. */
  public int status() {
    return status;
  }

  /** Returns the members of the body, in their order. */
  public Map<String, Object> members() {
    return members;
  }

  /** Returns the headers that the reply has besides those of every problem. */
  public Map<String, String> headers() {
    return headers;
  }

  /** Returns what kind of problem it is, in a few words. */
  public String title() {
    return getMessage();
  }

  /** Returns what is wrong this time; may be empty. */
  public String detail() {
    return members.getOrDefault("detail", "").toString();
  }

  /**
   * 404 for a form.
   *
   * @param visible the forms that the caller may use, from which the near name is suggested
   */
  public static Problem noSuchForm(String name, Collection<String> visible) {
    Optional<String> near = Near.to(name, visible);
    Problem problem =
        of(
            404,
            "no-such-form",
            "There is no such form",
            "There is no form \""
                + Wellformed.of(name)
                + "\"."
                + near.map(it -> " Did you mean \"" + it + "\"?").orElse(""));
    near.ifPresent(it -> problem.with("suggestion", it));
    return problem;
  }

  /** 404 for a record. */
  public static Problem noSuchRecord(String form, String id) {
    return of(
        404,
        "no-such-record",
        "There is no such record",
        "Form " + form + " has no record " + Wellformed.of(id) + ", or has it no longer.");
  }

  /** 404 for a revision of a form. */
  public static Problem noSuchRevision(String form, String number) {
    return of(
        404,
        "no-such-revision",
        "There is no such revision",
        "Form "
            + form
            + " has no revision "
            + Wellformed.of(number)
            + "; its revisions are at /api/forms/"
            + form
            + "/revisions.");
  }

  /** 404 for a version of a record. */
  public static Problem noSuchVersion(String number) {
    return of(
        404,
        "no-such-version",
        "There is no such version",
        "The record has no version " + Wellformed.of(number) + "; its versions are at …/versions.");
  }

  /** 401, with {@code WWW-Authenticate} (RFC 9110, section 11.6.1). */
  public static Problem notSignedIn(String detail) {
    return of(401, "not-signed-in", "This needs a key or a session", detail)
        .header("WWW-Authenticate", "Bearer");
  }

  /** 422 with the errors of a verdict. */
  public static Problem refused(Verdict verdict) {
    Problem problem =
        of(422, "refused", "The submission was refused", "")
            .with("verdict", verdict.word())
            .with("values", verdict.values())
            .with("errors", verdict.errors());
    return verdict.decided().isEmpty() ? problem : problem.with("decided", verdict.decided());
  }

  /** A form file, or one that forms share, was read and cannot be published. */
  public static Problem formFile(FormFileException e) {
    return of(422, "form-file", "The file has errors", "Nothing was published.")
        .with("errors", e.errors());
  }

  /** 400 for a parameter of the query. */
  public static Problem badQuery(String detail) {
    return of(400, "bad-query", "The query cannot be used", detail);
  }

  /** 404 for an address that nothing answers. */
  public static Problem notFound(String path) {
    return of(404, "no-such-path", "There is nothing here", "Nothing answers at " + path + ".");
  }

  /** 405, with {@code Allow} (RFC 9110, section 15.5.6). */
  public static Problem notAllowedMethod(String method, Collection<String> allowed) {
    // What OPTIONS says is allowed, too: it is itself, and HEAD wherever GET is.
    Set<String> all = new TreeSet<>(allowed);
    if (all.contains("GET")) {
      all.add("HEAD");
    }
    all.add("OPTIONS");
    return of(
            405,
            "method",
            "This method does not work here",
            method
                + " does not work here; "
                + String.join(", ", all)
                + (all.size() == 1 ? " does." : " do."))
        .header("Allow", String.join(", ", all));
  }

  /** 415, with the types that would be read. */
  public static Problem mediaType(String given, List<String> wanted) {
    return of(
        415,
        "media-type",
        "The body has a media type that cannot be read here",
        (given == null ? "The request says no Content-Type" : given + " cannot be read here")
            + "; send "
            + String.join(" or ", wanted)
            + ".");
  }

  /** The body is packed in a way that nothing here unpacks (RFC 9110, section 15.5.16). */
  public static Problem contentEncoding(String given) {
    return of(
            415,
            "media-type",
            "The body has an encoding that cannot be read here",
            "Content-Encoding " + given + " cannot be read here; send the body as it is.")
        .header("Accept-Encoding", "identity");
  }
}
