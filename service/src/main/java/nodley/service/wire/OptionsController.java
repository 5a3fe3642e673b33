package nodley.service.wire;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.name.Near;
import nodley.service.caller.Caller;
import nodley.service.caller.Gate;
import nodley.service.problem.Problem;
import nodley.service.submission.Options;
import nodley.service.submission.Submissions;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** {@code /api/forms/{form}/options/{field}}: what a choice or a reference offers this caller. */
@RestController
class OptionsController {

  private final Submissions submissions;
  private final Options options;

  OptionsController(Submissions submissions, Options options) {
    this.submissions = submissions;
    this.options = options;
  }

  @GetMapping("/api/forms/{form}/options/{field}")
  ResponseEntity<byte[]> options(
      @PathVariable("form") String name,
      @PathVariable("field") String fieldName,
      HttpServletRequest request) {
    Caller caller = Caller.current();
    Form form = submissions.form(name, caller).form();
    Gate.pass(Gate.mayUse(caller, form), caller);
    Query query = Query.of(request, "q");
    Field field =
        form.field(fieldName)
            .orElseThrow(
                () ->
                    Problem.of(
                        404,
                        "no-such-field",
                        "There is no such field",
                        "Form "
                            + name
                            + " has no field \""
                            + fieldName
                            + "\"."
                            + Near.to(fieldName, form.byName().keySet())
                                .map(near -> " Did you mean \"" + near + "\"?")
                                .orElse("")));
    List<Map<String, String>> found =
        options.of(field, query.get("q").orElse(""), caller).stream()
            .map(option -> Map.of("value", option.value(), "label", option.label()))
            .toList();
    return Reply.ok(Map.of("options", found));
  }
}
