package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.input.FormInput;
import nodley.core.input.Input;
import nodley.core.input.Unreadable;
import nodley.core.name.Near;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.http.Reply;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import nodley.service.submission.Options;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/options/{field}}: the options that a field offers this caller, given the
 * values of the fields that they depend on. Records of other forms are offered as far as the caller
 * may see them.
 */
@RestController
class OptionsController {

  private final Options options;
  private final Limits.Requests limits;

  OptionsController(Options options, Limits limits) {
    this.limits = limits.request();
    this.options = options;
  }

  record Found(List<OptionReply> options) {}

  record OptionReply(String value, String label) {}

  @Needs(Right.USE)
  @GetMapping("/api/forms/{form}/options/{field}")
  ResponseEntity<byte[]> options(
      Form form, @PathVariable("field") String fieldName, HttpServletRequest request) {
    Caller caller = Caller.current();
    Map<String, Raw> values = new LinkedHashMap<>();
    String words = "";
    try {
      Input query =
          FormInput.read(
              Optional.ofNullable(request.getQueryString())
                  .orElse("")
                  .getBytes(StandardCharsets.UTF_8),
              limits.input());
      values.putAll(query.members());
      Raw q = form.field("q").isPresent() ? null : values.remove("q");
      words = q == null ? "" : q.shown();
    } catch (Unreadable e) {
      throw Problem.badQuery(e.getMessage().replace("The body", "The query"));
    }
    values.keySet().removeIf(it -> it.startsWith("_"));
    if (form.field("lang").isEmpty()) {
      values.remove("lang");
    }
    for (String given : values.keySet()) {
      if (form.field(given).isEmpty()) {
        throw Problem.badQuery(
            "\""
                + Wellformed.of(given)
                + "\" is no field of the form."
                + Near.to(given, form.fields().names())
                    .map(near -> " Did you mean \"" + near + "\"?")
                    .orElse(""));
      }
    }
    List<String> path = Arrays.asList(fieldName.split("\\.", -1));
    Field field =
        form.fields()
            .find(path)
            .orElseThrow(
                () ->
                    Problem.of(
                        404,
                        "no-such-field",
                        "There is no such field",
                        "Form "
                            + form.name()
                            + " has no field \""
                            + fieldName
                            + "\"."
                            + Near.to(fieldName, form.fields().names())
                                .map(near -> " Did you mean \"" + near + "\"?")
                                .orElse("")));
    List<OptionReply> found =
        options
            .of(form, new Form.Placed(path, field), words, values, Optional.empty(), caller)
            .stream()
            .map(option -> new OptionReply(option.value(), option.label()))
            .toList();
    return Reply.ok(new Found(found));
  }
}
