package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.sample.Sampler;
import nodley.core.submission.FieldError;
import nodley.core.value.Raw;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.service.submission.Samples;
import nodley.service.submission.Submissions;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/samples}: made-up values that the form accepts, and such as it refuses
 * with a given code, for developers who try a form. Nothing is stored.
 */
@RestController
class SamplesController {

  private static final int MAX = 50;

  private final Submissions submissions;
  private final Samples samples;

  SamplesController(Submissions submissions, Samples samples) {
    this.submissions = submissions;
    this.samples = samples;
  }

  /**
   * What was made.
   *
   * @param now the moment that they were made for: RFC 3339, UTC
   * @param samples each is a {@link Good} or a {@link Wrong}
   */
  record Made(String form, String now, List<Object> samples) {}

  /** Values that the form accepts. */
  record Good(Object values) {}

  /** Values that the form refuses for one reason. */
  record Wrong(String code, String pointer, String detail, Object values) {

    static Wrong of(Sampler.Wrong wrong) {
      return new Wrong(wrong.code(), wrong.pointer(), wrong.detail(), json(wrong.values()));
    }
  }

  @Needs(Right.SAMPLE)
  @GetMapping("/api/forms/{form}/samples")
  ResponseEntity<byte[]> make(Form form, HttpServletRequest request) {
    Caller caller = Caller.current();
    String name = form.name();
    Query query = Query.of(request, "count", "seed", "wrong");
    int count = query.number("count", 1, MAX);
    int seed = query.number("seed", 1, 999_999);
    boolean wrong = query.get("wrong").filter(it -> !it.equals("false")).isPresent();
    Sampler sampler = samples.of(form, caller, seed);
    List<Object> made = new ArrayList<>();
    for (int i = 0; i < (wrong ? 1 : count); i++) {
      Map<String, Raw> values = right(name, sampler.right());
      if (wrong) {
        sampler.wrong(values, samples.kept(form, caller)).forEach(it -> made.add(Wrong.of(it)));
      } else {
        made.add(new Good(json(values)));
      }
    }
    return Reply.ok(
        new Made(name, submissions.context(caller, Optional.empty()).now().toString(), made));
  }

  private static Map<String, Raw> right(String form, Sampler.Outcome outcome) {
    return outcome
        .values()
        .orElseThrow(
            () ->
                Problem.of(
                        409,
                        "no-sample",
                        "No values were found that the form accepts",
                        "What stood against the last ones tried: "
                            + outcome.against().stream()
                                .map(FieldError::detail)
                                .reduce((a, b) -> a + " " + b)
                                .orElse(""))
                    .with("form", form));
  }

  private static Object json(Map<String, Raw> values) {
    return new Raw.Members(values).toJson();
  }
}
