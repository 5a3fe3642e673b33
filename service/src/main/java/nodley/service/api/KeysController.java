package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.SortedSet;
import java.util.TreeSet;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.Key;
import nodley.store.access.Keys;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/keys}: lists, makes and ends the keys of programs. Needs the role admin. The reply to
 * making one is the only place where the key itself is ever told.
 */
@RestController
@RequestMapping("/api/keys")
class KeysController {

  private final Keys keys;
  private final Forms forms;
  private final RoleWarnings roles;
  private final Bodies bodies;
  private final Clock clock;

  KeysController(Store store, RoleWarnings roles, Bodies bodies, Clock clock) {
    this.keys = store.keys();
    this.forms = store.forms();
    this.roles = roles;
    this.bodies = bodies;
    this.clock = clock;
  }

  record AllKeys(List<KeyReply> keys) {}

  /**
   * A key, without its secret.
   *
   * @param forms the forms that it is limited to; none means all
   * @param until its last day, in UTC; left out if it has none
   * @param lastUse left out if it was never shown
   */
  record KeyReply(
      String name,
      SortedSet<String> roles,
      SortedSet<String> forms,
      Optional<String> until,
      String madeAt,
      Optional<LastUse> lastUse) {

    static KeyReply of(Key key) {
      return new KeyReply(
          key.name(),
          new TreeSet<>(key.roles()),
          new TreeSet<>(key.forms()),
          key.until().map(LocalDate::toString),
          key.madeAt(),
          key.lastUse().map(it -> new LastUse(it.day().toString(), it.address())));
    }
  }

  record LastUse(String day, String address) {}

  /**
   * A key that was just made.
   *
   * @param key its secret
   * @param warnings of roles that no form knows
   */
  record Made(
      String name,
      SortedSet<String> roles,
      SortedSet<String> forms,
      Optional<String> until,
      String key,
      List<String> warnings) {}

  @Needs(Right.ADMIN)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(new AllKeys(keys.all().stream().map(KeyReply::of).toList()));
  }

  /** Makes a key. The reply alone has its secret. */
  @Logged("make-key")
  @Needs(Right.ADMIN)
  @PostMapping
  ResponseEntity<byte[]> make(HttpServletRequest request) throws IOException {
    Query.of(request);
    LocalDate today = clock.instant().atZone(ZoneOffset.UTC).toLocalDate();
    List<String> published = forms.all().stream().map(PublishedForm::name).toList();
    KeyInput input = new KeyInput(bodies.submission(request), published, today);
    String secret =
        keys.make(input.name(), input.roles(), input.forms(), input.until())
            .orElseThrow(() -> input.taken());
    LoggedCalls.to(request, "keys/" + input.name());
    return Reply.json(
        Reply.status(201),
        new Made(
            input.name(),
            new TreeSet<>(input.roles()),
            new TreeSet<>(input.forms()),
            input.until().map(LocalDate::toString),
            secret,
            roles.of(input.roles())));
  }

  /** Ends a key, and the sessions that were opened with it, at once. */
  @Logged("end-key")
  @Needs(Right.ADMIN)
  @DeleteMapping("/{name}")
  ResponseEntity<byte[]> end(@PathVariable String name, HttpServletRequest request) {
    Query.of(request);
    return switch (keys.end(name)) {
      case ENDED -> Reply.status(204).build();
      case LAST_ADMIN ->
          throw Problem.of(
              409,
              "last-admin",
              "This is the last key of an admin",
              "Make another one first, or give a person the role admin: without one nobody could"
                  + " make keys any more.");
      case NO_SUCH_KEY ->
          throw Problem.of(
              404,
              "no-such-key",
              "There is no such key",
              "There is no key \""
                  + Wellformed.of(name)
                  + "\"."
                  + Near.to(name, keys.names())
                      .map(near -> " Did you mean \"" + near + "\"?")
                      .orElse(""));
    };
  }
}
