package nodley.service.page;

import static nodley.service.page.ServicePages.seeOther;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import nodley.core.form.Access;
import nodley.core.form.Form;
import nodley.core.text.Notation;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.caller.SafeCookie;
import nodley.service.draft.CallerDrafts;
import nodley.service.http.Bodies;
import nodley.service.http.MemberReader;
import nodley.service.http.Query;
import nodley.service.operator.Logged;
import nodley.service.people.OwnSessions;
import nodley.service.people.PasswordChange;
import nodley.service.people.Passwords;
import nodley.service.people.SignIn;
import nodley.service.problem.Problem;
import nodley.service.submission.CostlyReads;
import nodley.service.submission.Displays;
import nodley.store.Store;
import nodley.store.access.Sessions.Session;
import nodley.store.draft.Draft;
import nodley.store.form.PublishedForm;
import nodley.store.record.Listing;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * What is a person's own: their records, where they are signed in, their password; with and without
 * script.
 */
@RestController
@RequestMapping("/account")
class AccountPage {

  /** So many records of a form are shown, the newest ones. */
  private static final int SHOWN = 20;

  private final Store store;
  private final OwnSessions sessions;
  private final PasswordChange change;
  private final CostlyReads costlyReads;
  private final Displays displays;
  private final ServicePages pages;
  private final Bodies bodies;
  private final CallerDrafts drafts;
  private final Clock clock;

  /** A form of which somebody has records. */
  private record Owned(String name, String title, List<Shown> records, boolean more) {}

  /** A record, by what it is called. */
  private record Shown(String address, String called) {}

  /** A draft: what leads on with it. */
  private record Unfinished(String title, String address, String words) {}

  /** A session: a sentence about it. */
  private record SignedIn(String id, String about, boolean here) {}

  AccountPage(
      Store store,
      OwnSessions sessions,
      PasswordChange change,
      CostlyReads costlyReads,
      Displays displays,
      ServicePages pages,
      Bodies bodies,
      CallerDrafts drafts,
      Clock clock) {
    this.drafts = drafts;
    this.clock = clock;
    this.store = store;
    this.sessions = sessions;
    this.change = change;
    this.costlyReads = costlyReads;
    this.displays = displays;
    this.pages = pages;
    this.bodies = bodies;
  }

  @Needs(Right.SIGNED_IN)
  @GetMapping
  ResponseEntity<byte[]> show(HttpServletRequest request) {
    String said =
        switch (Query.of(request, "done").get("done").orElse("")) {
          case "session" -> pages.word("account.ended");
          case "password" -> pages.word("set-password.done");
          default -> "";
        };
    return page(HttpStatus.OK, request, "", "", said);
  }

  /** Ends a session of the caller's. */
  @Logged("end-session")
  @Needs(Right.SIGNED_IN)
  @PostMapping("/sessions/{id}/end")
  ResponseEntity<byte[]> end(@PathVariable String id, HttpServletRequest request) {
    // One that has ended meanwhile is as it should be.
    sessions.end(id);
    return seeOther(URI.create("/account?done=session"));
  }

  /** Sets another password in place of the present one. */
  @Logged("set-password")
  @Needs(Right.SIGNED_IN)
  @PostMapping("/password")
  ResponseEntity<byte[]> setPassword(HttpServletRequest request) throws IOException {
    MemberReader members =
        PasswordChange.reader(bodies.submission(request), "name", "current", "password");
    String current = members.secret("current");
    String password = members.secret("password");
    try {
      Caller.Known caller = (Caller.Known) Caller.current();
      SignIn.Opened opened = change.byCurrent(members, caller, current, password, request);
      return seeOther(
          URI.create("/account?done=password"), SafeCookie.SESSION.set(opened.secret(), request));
    } catch (Problem problem) {
      if (problem.status() != 422) {
        throw problem;
      }
      return page(
          HttpStatus.UNPROCESSABLE_CONTENT,
          request,
          PasswordPages.error(pages, members, "current", current),
          PasswordPages.error(pages, members, "password", password),
          "");
    }
  }

  private ResponseEntity<byte[]> page(
      HttpStatus status,
      HttpServletRequest request,
      String currentError,
      String passwordError,
      String said) {
    Caller.Known caller = (Caller.Known) Caller.current();
    List<Owned> owned = caller.person().isEmpty() ? List.of() : owned(caller);
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("name", caller.displayName());
    view.put("signInName", caller.name());
    view.put("email", caller.email());
    view.put("roles", String.join(", ", new TreeSet<>(caller.roles())));
    view.put("forms", owned);
    List<Unfinished> unfinished = unfinished(request);
    view.put("drafts", unfinished);
    view.put("hasDrafts", !unfinished.isEmpty());
    view.put("isPerson", !caller.person().isEmpty());
    view.put("sessions", signedIn(request));
    view.put("hasPassword", store.people().find(caller.person()).isPresent());
    view.put("currentError", currentError);
    view.put("passwordError", passwordError);
    view.put("shortest", Passwords.SHORTEST);
    view.put("help", pages.word("set-password.help", Map.of("shortest", Passwords.SHORTEST)));
    return pages.page(status, "account.of", "account", view, said);
  }

  /** The records of the caller's that they may see, by form. */
  private List<Owned> owned(Caller.Known caller) {
    List<Owned> all = new ArrayList<>();
    for (PublishedForm published : store.forms().all()) {
      Form form = Authorization.seen(published, caller).form();
      if (Authorization.may(caller, form, Access::see)
          || Authorization.mayOwn(caller, form, Access::see)) {
        var listing = Listing.newest("", SHOWN).ownedBy(Optional.of(caller.person()));
        var page = costlyReads.run(() -> store.records().list(form, listing));
        var display = displays.of(caller).in(Notation.of(form.language()));
        List<Shown> records =
            page.records().stream()
                .map(
                    it ->
                        new Shown(
                            "/forms/" + form.name() + (form.isOne() ? "" : "/" + it.id()),
                            form.called(it.values(), display)))
                .toList();
        if (!records.isEmpty()) {
          boolean more = page.next().isPresent() && !Authorization.maySee(caller, form);
          all.add(new Owned(form.name(), form.titles().list(), records, more));
        }
      }
    }
    return all;
  }

  /** The caller's drafts, what was changed last coming first. */
  private List<Unfinished> unfinished(HttpServletRequest request) {
    return drafts.own(request).stream()
        .map(
            it -> {
              Draft draft = it.draft();
              Optional<String> record = Optional.of(draft.record()).filter(id -> !id.isEmpty());
              return new Unfinished(
                  it.form().titles().list(),
                  FormView.address(it.form(), record, request, draft.id(), ""),
                  DraftView.words(it.form(), draft, clock.instant(), _ -> ""));
            })
        .toList();
  }

  private List<SignedIn> signedIn(HttpServletRequest request) {
    String current = sessions.current(request).map(Session::id).orElse("");
    return sessions.own().stream()
        .map(
            it ->
                new SignedIn(
                    it.id(),
                    pages.word(
                        "account.session",
                        Map.of(
                            "address", it.address(),
                            "begun", moment(it.begunAt()),
                            "used", moment(it.usedAt()))),
                    it.id().equals(current)))
        .toList();
  }

  private static String moment(long millis) {
    return Instant.ofEpochMilli(millis).toString().substring(0, 16).replace('T', ' ') + " UTC";
  }
}
