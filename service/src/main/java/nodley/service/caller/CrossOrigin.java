package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import nodley.store.Store;
import nodley.store.form.Forms;
import org.springframework.stereotype.Component;

/**
 * CORS (Fetch, section 3.3): allows pages of the sites in a form's {@code origins} to call it,
 * never with a session. The page runtime may be loaded from everywhere.
 */
@Component
public final class CrossOrigin {

  /** What is below these is of the form that comes next in the path. */
  private static final List<String> ABOVE_FORMS = List.of("/api/forms/", "/forms/", "/api/texts/");

  private static final Pattern FORM = Pattern.compile("[a-z][a-z0-9-]{0,39}");

  private static final Pattern FORM_IN_QUERY = Pattern.compile("(?:^|&)form=([a-z0-9-]+)");

  private static final Pattern RECORD_IN_QUERY =
      Pattern.compile("(?:^|&)record=([a-z0-9-]+)(?=/|%2F)", Pattern.CASE_INSENSITIVE);

  private static final String SCRIPT = "/page/";

  private static final String HOLDS = "/api/holds";

  private static final String RELEASE = HOLDS + "/release";

  private static final String CHANGES = "/api/changes";

  /** What a rehearsal needs besides, on a page of another site; the query names the form. */
  private static final List<String> OF_REHEARSAL = List.of("/rehearsal", "/api/attempts");

  private static final String UPLOADS = "/api/uploads";

  private static final String DRAFTS = "/api/drafts";

  private static final String UPLOAD_HEADERS =
      ", Tus-Resumable, Upload-Length, Upload-Metadata, Upload-Offset, Upload-Checksum,"
          + " X-HTTP-Method-Override, X-Requested-With";

  private static final String UPLOAD_REPLIES =
      ", Tus-Resumable, Tus-Version, Tus-Extension, Tus-Max-Size, Upload-Offset, Upload-Length,"
          + " Upload-Metadata, Upload-Expires";

  private final Forms forms;

  CrossOrigin(Store store) {
    this.forms = store.forms();
  }

  /** Writes what a browser asks before it gives a page of another site the reply. */
  public void write(HttpServletRequest request, HttpServletResponse response) {
    String origin = request.getHeader("Origin");
    if (request.getServletPath().startsWith(SCRIPT)) {
      response.setHeader("Access-Control-Allow-Origin", "*");
      return;
    }
    boolean uploads = isUpload(request);
    boolean ofAnyForm = uploads || isBelow(request, DRAFTS);
    Optional<String> ofPath = form(request.getServletPath());
    Set<String> names = ofPath.map(Set::of).orElseGet(() -> ofQuery(request));
    if (names.isEmpty() && !ofAnyForm) {
      return;
    }
    boolean ofForm = ofPath.isPresent();
    if (origin != null && ofForm && names.stream().noneMatch(it -> forms.find(it).isPresent())) {
      // That there is no such form, anybody's page may read: most have misspelt the name.
      response.setHeader("Access-Control-Allow-Origin", "*");
      return;
    }
    List<String> origins = ofAnyForm ? allOrigins() : origins(names);
    if (!origins.isEmpty()) {
      // The reply to one site, or to none, must not be kept for another.
      response.addHeader("Vary", "Origin");
    }
    if (origin != null && origins.contains(origin)) {
      response.setHeader("Access-Control-Allow-Origin", origin);
      response.setHeader(
          "Access-Control-Expose-Headers",
          "ETag, Location, Retry-After, X-Request-Id" + (uploads ? UPLOAD_REPLIES : ""));
    }
  }

  /**
   * True if it is the question before a request that a plain form could not send; it is answered.
   */
  boolean answered(HttpServletRequest request, HttpServletResponse response) {
    boolean asks =
        request.getMethod().equals("OPTIONS")
            && request.getHeader("Access-Control-Request-Method") != null
            && response.getHeader("Access-Control-Allow-Origin") != null;
    if (asks) {
      allow(response, isUpload(request) ? UPLOAD_HEADERS : "");
    }
    return asks;
  }

  private static boolean isUpload(HttpServletRequest request) {
    return isBelow(request, UPLOADS);
  }

  private static boolean isBelow(HttpServletRequest request, String root) {
    String path = request.getServletPath();
    return path.equals(root) || path.startsWith(root + "/");
  }

  /**
   * The sites whose pages may call any form: which one an upload or a draft is for, the question
   * before it does not say. No session goes along, and the form is asked again with the call
   * itself.
   */
  private List<String> allOrigins() {
    return forms.all().stream()
        .flatMap(form -> form.form().pages().origins().stream())
        .distinct()
        .toList();
  }

  /** The sites whose pages may call all of these forms. */
  private List<String> origins(Set<String> names) {
    if (names.size() == 1) {
      return origins(names.iterator().next());
    }
    List<List<String>> each = names.stream().map(this::origins).toList();
    return each.stream()
        .flatMap(List::stream)
        .distinct()
        .filter(origin -> each.stream().allMatch(it -> it.contains(origin)))
        .toList();
  }

  private List<String> origins(String name) {
    return forms.find(name).map(it -> it.form().pages().origins()).orElse(List.of());
  }

  /** The names of the forms that a request is about by its query. */
  private static Set<String> ofQuery(HttpServletRequest request) {
    return switch (request.getServletPath()) {
      case HOLDS, RELEASE -> named(FORM_IN_QUERY, request);
      case CHANGES -> named(RECORD_IN_QUERY, request);
      default ->
          OF_REHEARSAL.stream().anyMatch(it -> isBelow(request, it))
              ? named(FORM_IN_QUERY, request)
              : Set.of();
    };
  }

  private static Set<String> named(Pattern names, HttpServletRequest request) {
    String query = request.getQueryString() == null ? "" : request.getQueryString();
    return names.matcher(query).results().map(it -> it.group(1)).collect(Collectors.toSet());
  }

  /** The form whose page or part of the wire a path is. */
  private static Optional<String> form(String path) {
    for (String above : ABOVE_FORMS) {
      if (path.startsWith(above)) {
        int end = path.indexOf('/', above.length());
        String name = path.substring(above.length(), end < 0 ? path.length() : end);
        return Optional.of(name).filter(it -> FORM.matcher(it).matches());
      }
    }
    return Optional.empty();
  }

  private static void allow(HttpServletResponse response, String more) {
    response.setHeader("Access-Control-Allow-Methods", "GET, HEAD, POST, PUT, PATCH, DELETE");
    response.setHeader(
        "Access-Control-Allow-Headers",
        "Content-Type, Accept-Language, Authorization, Idempotency-Key, If-Match, If-None-Match"
            + more);
    response.setHeader("Access-Control-Max-Age", "600");
    response.setStatus(HttpServletResponse.SC_NO_CONTENT);
  }
}
