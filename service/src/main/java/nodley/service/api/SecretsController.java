package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import nodley.core.form.Form;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.limits.RateLimits;
import nodley.service.problem.Problem;
import nodley.service.submission.Secrets;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/records/{id}/secrets/{field}/verify}: compares a secret with the stored
 * digest. For programs with a key, rate-limited by record.
 */
@RestController
class SecretsController {

  private static final String SECRET = "secret";

  private final Store store;
  private final Submissions submissions;
  private final Secrets secrets;
  private final RateLimits rates;
  private final Bodies bodies;

  SecretsController(
      Store store, Submissions submissions, Secrets secrets, RateLimits rates, Bodies bodies) {
    this.store = store;
    this.submissions = submissions;
    this.secrets = secrets;
    this.rates = rates;
    this.bodies = bodies;
  }

  record Verified(boolean matches) {}

  @Needs(Right.PROGRAM)
  @PostMapping("/api/forms/{form}/records/{id}/secrets/{field}/verify")
  ResponseEntity<byte[]> verify(
      Form form,
      @PathVariable String id,
      @PathVariable("field") String dotted,
      HttpServletRequest request)
      throws IOException {
    Query.of(request);
    List<String> path = Arrays.asList(dotted.split("\\.", -1));
    checkSecret(form, path);
    StoredRecord record = submissions.record(form, id);
    String secret = bodies.texts(request).get(SECRET);
    if (secret == null || secret.isEmpty()) {
      throw Problem.of(400, "unreadable", "The body cannot be read", "Send {\"secret\": \"…\"}.");
    }
    rates.countComparison(form.name(), record.id());
    boolean matches =
        store
            .records()
            .secrets()
            .digest(form, record.id(), path)
            .filter(digest -> matches(form, record, path, secret, digest))
            .isPresent();
    return Reply.ok(new Verified(matches));
  }

  /** A digest that an earlier build made is made anew while its secret is at hand. */
  private boolean matches(
      Form form, StoredRecord record, List<String> path, String secret, String digest) {
    Secrets.Compared compared = secrets.compare(secret, digest);
    if (compared.outdated()) {
      store.records().secrets().renew(form, record.id(), path, digest, secrets.digest(secret));
    }
    return compared.same();
  }

  private static void checkSecret(Form form, List<String> path) {
    List<String> known =
        form.fields().columns().stream()
            .filter(it -> it.field().isSecret())
            .map(it -> it.dotted())
            .toList();
    String dotted = String.join(".", path);
    if (!known.contains(dotted)) {
      throw Problem.of(
          404,
          "no-such-field",
          "There is no such secret",
          "Form "
              + form.name()
              + " keeps no secret \""
              + Wellformed.of(dotted)
              + "\"."
              + Near.to(dotted, known).map(near -> " Did you mean \"" + near + "\"?").orElse(""));
    }
  }
}
