package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.io.IOException;
import java.io.InputStream;
import java.lang.annotation.Annotation;
import java.lang.reflect.Method;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import org.assertj.core.api.SoftAssertions;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.springframework.core.annotation.MergedAnnotations;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestMethod;
import tools.jackson.databind.JsonNode;

/** Who may call what: every mapping is listed with its right, and every right holds. */
class AccessTest {

  /** A row of the table in docs/wire.md: the right, and the calls that need it. */
  private static final Pattern ROW = Pattern.compile("^\\| `([a-z-]+)` \\|[^|]*\\| (.+) \\|$");

  private static final Pattern CALL = Pattern.compile("`([A-Z]+) (\\S+)`");

  private static final List<Mapping> MAPPINGS = readMappings();
  private static final HttpClient HTTP = HttpClient.newHttpClient();

  private static RunningService service;

  /** A call, such as {@code GET /api/forms/{form}}, and the right that its mapping declares. */
  private record Mapping(String method, String path, Right right) {

    String call() {
      return method + " " + path.replaceAll(":[^}]*", "");
    }

    /** The address of the call for a form, with made-up names for the rest. */
    String address(String form) {
      String address =
          path.replaceAll("\\{kind:[^}]*}", "lists")
              .replaceAll("\\{file:[^}]*}", "rehearse.js")
              .replace("{form}", form)
              .replace("{lang}", "de")
              .replaceAll("\\{(number|id)}", "1")
              .replaceAll("\\{[a-z]+}", "some");
      return path.startsWith("/api/holds")
              || path.equals("/api/uploads")
              || path.equals("/api/drafts")
          ? address + "?form=" + form
          : address;
    }
  }

  /** A form's access; true is anyone. */
  private record Access(boolean add, boolean see, boolean edit, boolean remove) {

    String form() {
      return Stream.of(add, see, edit, remove)
          .map(open -> open ? "1" : "0")
          .collect(Collectors.joining("", "access-", ""));
    }

    private static String who(boolean open) {
      return open ? "anyone" : "signed-in";
    }

    String yaml() {
      return """
      form: %s
      access: { add: %s, see: %s, edit: %s, remove: %s }
      fields: { name: { type: text } }
      """
          .formatted(form(), who(add), who(see), who(edit), who(remove));
    }

    /** Written out from what docs/form-file.md says of {@code access}. */
    boolean opens(Right right) {
      return switch (right) {
        case NOTHING, NO_INVALID_TOKEN, SAME_ORIGIN -> true;
        case PROGRAM, SIGNED_IN, AUTHOR, REMOVE_FORM, OPERATOR, ADMIN, VOUCH -> false;
        case ADD, SAMPLE, CHECK, DRAFT -> add;
        case SEE, OPEN -> see;
        case EDIT -> edit;
        case SEE_AND_EDIT -> see && edit;
        case REMOVE -> remove;
        case UPLOAD -> add || edit;
        case USE -> add || see || edit;
      };
    }
  }

  static Stream<Access> everyAccess() {
    return IntStream.range(0, 16)
        .mapToObj(i -> new Access((i & 8) > 0, (i & 4) > 0, (i & 2) > 0, (i & 1) > 0));
  }

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    everyAccess()
        .forEach(
            access ->
                assertThat(service.wire().publish(access.form(), access.yaml()).status())
                    .isEqualTo(201));
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static List<Mapping> readMappings() {
    List<Mapping> mappings = new ArrayList<>();
    for (JavaClass type :
        new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("nodley.service")) {
      String base = paths(type.reflect().getAnnotations()).findFirst().orElse("");
      for (Method method : type.reflect().getDeclaredMethods()) {
        MergedAnnotations.from(method).stream(RequestMapping.class)
            .findFirst()
            .ifPresent(
                mapping -> {
                  Needs needs = method.getAnnotation(Needs.class);
                  assertThat(needs).as(method.toString()).isNotNull();
                  String[] below = mapping.getStringArray("path");
                  RequestMethod[] methods = mapping.getEnumArray("method", RequestMethod.class);
                  for (String path : below.length == 0 ? new String[] {""} : below) {
                    for (String verb :
                        methods.length == 0
                            ? List.of("ANY")
                            : Arrays.stream(methods).map(Enum::name).toList()) {
                      mappings.add(new Mapping(verb, base + path, needs.value()));
                    }
                  }
                });
      }
    }
    return mappings;
  }

  private static Stream<String> paths(Annotation[] annotations) {
    return MergedAnnotations.from(annotations).stream(RequestMapping.class)
        .flatMap(it -> Arrays.stream(it.getStringArray("path")));
  }

  @Test
  void everyMappingIsListedWithTheRightThatItNeeds() throws IOException {
    Map<String, String> listed = new TreeMap<>();
    for (String line : Files.readAllLines(Repository.file("docs/wire.md"))) {
      Matcher row = ROW.matcher(line);
      if (row.matches()) {
        Matcher call = CALL.matcher(row.group(2));
        while (call.find()) {
          listed.put(call.group(1) + " " + call.group(2), row.group(1));
        }
      }
    }
    Map<String, String> declared = new TreeMap<>();
    for (Mapping mapping : MAPPINGS) {
      declared.put(
          mapping.call(), mapping.right().name().toLowerCase(Locale.ROOT).replace('_', '-'));
    }
    assertThat(listed).isEqualTo(declared);
  }

  /** Each call of a stranger is refused, or not, by the form's access alone. */
  @ParameterizedTest
  @MethodSource("everyAccess")
  void aStrangerMayDoWhatTheFormOpens(Access access) throws Exception {
    SoftAssertions all = new SoftAssertions();
    for (Mapping mapping : MAPPINGS) {
      int status = status(mapping, access.form());
      all.assertThat(status == 401)
          .as("%s of %s: %d", mapping.call(), access, status)
          .isEqualTo(!access.opens(mapping.right()));
      all.assertThat(status).as(mapping.call()).isNotIn(403, 500);
    }
    all.assertAll();
  }

  @Test
  void anInvalidTokenIsRefusedWhateverIsOpen() throws Exception {
    Access open = new Access(true, true, true, true);
    for (Right right : Right.values()) {
      int status = status(anyOf(right), open.form(), "Authorization", "Bearer nobody-has-this-key");
      boolean needsNobody = right == Right.NOTHING || right == Right.SAME_ORIGIN;
      assertThat(status == 401).as(right + ": " + status).isEqualTo(!needsNobody);
    }
  }

  @Test
  void aKeyMayDoEverything() throws Exception {
    for (Mapping mapping : MAPPINGS) {
      assertThat(status(mapping, "no-such-form", "Authorization", "Bearer " + RunningService.KEY))
          .as(mapping.call())
          .isNotIn(401, 403, 500);
    }
  }

  @Test
  void aPersonsSessionIsWorthNothingInAChangeFromAnotherSite() throws Exception {
    String session =
        service
            .stranger()
            .post("/api/session", Wire.JSON_TYPE, "{\"key\": \"" + RunningService.KEY + "\"}")
            .header("Set-Cookie")
            .replaceFirst(";.*", "");
    Access closed = new Access(false, false, false, false);
    for (Mapping mapping : MAPPINGS) {
      boolean isChange = !List.of("GET", "HEAD", "OPTIONS", "ANY").contains(mapping.method());
      if (isChange) {
        assertThat(
                status(mapping, closed.form(), "Cookie", session, "Sec-Fetch-Site", "cross-site"))
            .as(mapping.call())
            .isEqualTo(403);
      }
    }
  }

  private static Mapping anyOf(Right right) {
    return MAPPINGS.stream().filter(it -> it.right() == right).findFirst().orElseThrow();
  }

  /** The status of a call, whose body, which may be a stream without an end, is not read. */
  private static int status(Mapping mapping, String form, String... headers)
      throws IOException, InterruptedException {
    return status(service, mapping, form, headers);
  }

  private static int status(RunningService service, Mapping mapping, String form, String... headers)
      throws IOException, InterruptedException {
    return statusAt(service, mapping.method(), mapping.address(form), headers);
  }

  private static int statusAt(
      RunningService service, String method, String address, String... headers)
      throws IOException, InterruptedException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(service.address() + address))
            .method(method.equals("ANY") ? "GET" : method, HttpRequest.BodyPublishers.noBody());
    if (headers.length > 0) {
      request.headers(headers);
    }
    HttpResponse<InputStream> response =
        HTTP.send(request.build(), HttpResponse.BodyHandlers.ofInputStream());
    response.body().close();
    return response.statusCode();
  }

  /**
   * Written out from docs/people.md: whom each right is given to, of a form as {@link #BERTHING}.
   */
  private static final String BY_ROLE =
      """
      right            nobody plain clerk author operator admin of-it of-other author-of-it vouch pass clerk-pass pass-other person clerk-person admin-person
      nothing          yes    yes   yes   yes    yes      yes   yes   yes      yes          yes   yes  yes        yes        yes    yes          yes
      no-invalid-token yes    yes   yes   yes    yes      yes   yes   yes      yes          yes   yes  yes        yes        yes    yes          yes
      same-origin      yes    yes   yes   yes    yes      yes   yes   yes      yes          yes   yes  yes        yes        yes    yes          yes
      signed-in        no     yes   yes   yes    yes      yes   yes   yes      yes          yes   yes  yes        yes        yes    yes          yes
      author           no     no    no    yes    no       yes   no    no       yes          no    no   no         no         no     no           yes
      remove-form      no     no    no    yes    no       yes   no    no       yes          no    no   no         no         no     no           yes
      operator         no     no    no    no     yes      yes   no    no       no           no    no   no         no         no     no           yes
      admin            no     no    no    no     no       yes   no    no       no           no    no   no         no         no     no           yes
      vouch            no     no    no    no     no       yes   no    no       no           yes   no   no         no         no     no           no
      program          no     no    yes   no     no       yes   no    no       no           no    no   no         no         no     no           no
      sample           no     yes   yes   yes    yes      yes   yes   no       yes          yes   yes  yes        no         yes    yes          yes
      add              no     yes   yes   yes    yes      yes   yes   no       yes          yes   yes  yes        no         yes    yes          yes
      check            no     yes   yes   yes    yes      yes   yes   no       yes          yes   yes  yes        no         yes    yes          yes
      draft            no     yes   yes   yes    yes      yes   yes   no       yes          yes   yes  yes        no         yes    yes          yes
      upload           no     yes   yes   yes    yes      yes   yes   no       yes          yes   yes  yes        no         yes    yes          yes
      see              no     no    yes   no     no       yes   no    no       no           no    no   yes        no         no     yes          yes
      open             no     no    yes   no     no       yes   no    no       no           no    no   yes        no         no     yes          yes
      edit             no     no    yes   no     no       yes   no    no       no           no    no   yes        no         no     yes          yes
      see-and-edit     no     no    yes   no     no       yes   no    no       no           no    no   yes        no         no     yes          yes
      remove           no     no    no    no     no       yes   no    no       no           no    no   no         no         no     no           yes
      use              no     yes   yes   yes    yes      yes   yes   no       yes          yes   yes  yes        no         yes    yes          yes
      """;

  private static final String BERTHING =
      """
      form: %s
      access: { add: signed-in, see: [clerk, pilot], edit: clerk, remove: supervisor }
      fields: { name: { type: text } }
      """;

  /** What each kind of caller sends, by its column. */
  private static Map<String, String[]> callers() {
    Map<String, String[]> callers = new HashMap<>();
    callers.put("nobody", new String[0]);
    callers.put("admin", bearer(RunningService.KEY));
    callers.put("plain", bearer(key("plain", "[]", "[]")));
    for (String role : List.of("clerk", "author", "operator", "vouch")) {
      callers.put(role, bearer(key(role, "[\"" + role + "\"]", "[]")));
    }
    callers.put("of-it", bearer(key("of-it", "[]", "[\"berthing\"]")));
    callers.put("of-other", bearer(key("of-other", "[\"clerk\", \"author\"]", "[\"mooring\"]")));
    callers.put("author-of-it", bearer(key("author-of-it", "[\"author\"]", "[\"berthing\"]")));
    callers.put("pass", bearer(pass("[]", "berthing")));
    callers.put("clerk-pass", bearer(pass("[\"clerk\"]", "berthing")));
    callers.put("pass-other", bearer(pass("[\"clerk\"]", "mooring")));
    callers.put("person", session("ann", "[]"));
    callers.put("clerk-person", session("otto", "[\"clerk\"]"));
    callers.put("admin-person", session("mara", "[\"admin\"]"));
    return callers;
  }

  private static String[] bearer(String token) {
    return new String[] {"Authorization", "Bearer " + token};
  }

  private static String key(String name, String roles, String forms) {
    return made(
            "/api/keys",
            "{\"name\": \"%s\", \"roles\": %s, \"forms\": %s}".formatted(name, roles, forms))
        .path("key")
        .asString();
  }

  private static String pass(String roles, String form) {
    return made(
            "/api/passes",
            "{\"person\": {\"id\": \"17\", \"roles\": %s}, \"forms\": [\"%s\"]}"
                .formatted(roles, form))
        .path("pass")
        .asString();
  }

  private static String[] session(String name, String roles) {
    return new String[] {"Cookie", limited.signIn(name, roles)};
  }

  private static JsonNode made(String path, String json) {
    Wire.Reply made = limited.wire().post(path, Wire.JSON_TYPE, json);
    assertThat(made.status()).as(made.response().body()).isEqualTo(201);
    return made.json();
  }

  private static RunningService limited;

  /** Every mapping is called by every kind of caller: what they may do follows from the table. */
  @Test
  void callersMayDoWhatTheirRolesAndFormsLetThem() throws Exception {
    try (RunningService running = RunningService.fresh()) {
      limited = running;
      for (String form : List.of("berthing", "mooring")) {
        assertThat(running.wire().publish(form, BERTHING.formatted(form)).status()).isEqualTo(201);
      }
      Map<String, String[]> callers = callers();
      SoftAssertions all = new SoftAssertions();
      List<String> lines = BY_ROLE.lines().toList();
      String[] columns = lines.getFirst().split(" +");
      for (String line : lines.subList(1, lines.size())) {
        String[] cells = line.split(" +");
        Right right = Right.valueOf(cells[0].toUpperCase(Locale.ROOT).replace('-', '_'));
        for (Mapping mapping : MAPPINGS.stream().filter(it -> it.right() == right).toList()) {
          for (int i = 1; i < cells.length; i++) {
            String[] headers = callers.get(columns[i]);
            boolean isOfNoForm = right == Right.AUTHOR && !mapping.path().contains("{form}");
            boolean allowed = cells[i].equals("yes") && !(isOfNoForm && columns[i].endsWith("-it"));
            // What an admin, or an author, may do to the form itself would end the table.
            if (allowed
                && !mapping.method().equals("GET")
                && mapping.right() == Right.REMOVE_FORM) {
              continue;
            }
            // Signing out would end the column.
            if (columns[i].endsWith("person")
                && List.of("DELETE /api/session", "POST /sign-out").contains(mapping.call())) {
              continue;
            }
            int status = status(running, mapping, "berthing", headers);
            all.assertThat(status != 401 && status != 403)
                .as("%s by %s: %d", mapping.call(), columns[i], status)
                .isEqualTo(allowed);
          }
        }
      }
      // A form in the query does not make a key for it good for what is of no form.
      for (Mapping mapping : MAPPINGS) {
        if (mapping.right() == Right.AUTHOR
            && !mapping.path().contains("{form}")
            && !List.of(
                    "/api/attempts",
                    "/api/attempts/{id}",
                    "/api/attempts/hours",
                    "/api/attempts/live",
                    "/api/attempts/struggles",
                    "/rehearsal/{file:rehearse\\.(?:js|css)}")
                .contains(mapping.path())) {
          int status =
              statusAt(
                  running,
                  mapping.method(),
                  mapping.address("berthing") + "?form=berthing",
                  callers.get("author-of-it"));
          boolean isRead = mapping.method().equals("GET");
          all.assertThat(status).as(mapping.call()).isEqualTo(isRead ? 400 : 403);
        }
      }
      all.assertAll();
      assertThat(lines).hasSize(Right.values().length + 1);
    }
  }
}
