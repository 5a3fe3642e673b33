package nodley.service.wire;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.service.caller.Caller;
import nodley.service.caller.Gate;
import nodley.service.live.Change;
import nodley.service.live.Feed;
import nodley.service.problem.Json;
import nodley.service.submission.Submissions;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** {@code /api/forms/{form}/changes}: records that are added, edited or removed, as it happens. */
@RestController
class ChangesController {

  private final Submissions submissions;
  private final Feed<Change> changes;

  ChangesController(Submissions submissions, Feed<Change> changes) {
    this.submissions = submissions;
    this.changes = changes;
  }

  @GetMapping("/api/forms/{form}/changes")
  void follow(
      @PathVariable("form") String name, HttpServletRequest request, HttpServletResponse response) {
    Caller caller = Caller.current();
    Form form = submissions.form(name, caller).form();
    Gate.pass(Gate.maySee(caller, form), caller);
    Optional<String> record = Query.of(request, "record").get("record");
    Events.send(
        request,
        response,
        changes,
        it -> it.form().equals(name) && record.map(it.record()::equals).orElse(true),
        ChangesController::event);
  }

  private static String event(Feed.Told<Change> told) {
    Change change = told.thing();
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("record", change.record());
    json.put("version", change.version());
    return "id: " + told.id() + "\ndata: " + new String(Json.bytes(json), StandardCharsets.UTF_8);
  }
}
