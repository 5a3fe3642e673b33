package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;
import nodley.core.line.Answer;
import nodley.core.line.Verdict;
import nodley.service.attempt.AttemptLog;
import nodley.service.attempt.Attempted;
import nodley.service.caller.Caller;
import nodley.service.caller.Gate;
import nodley.service.submission.Submissions;
import nodley.service.wire.Body;
import nodley.store.PublishedForm;
import nodley.store.Sent;
import nodley.store.StoredRecord;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The page that adds a record. */
@RestController
@RequestMapping("/forms/{form}/new")
class AddPage {

  private final Submissions submissions;
  private final FormPages pages;
  private final AttemptLog log;

  AddPage(Submissions submissions, FormPages pages, AttemptLog log) {
    this.submissions = submissions;
    this.pages = pages;
    this.log = log;
  }

  @GetMapping
  ResponseEntity<byte[]> blank(
      @PathVariable("form") String name, HttpServletRequest request, HttpServletResponse response) {
    Caller caller = Caller.current();
    Form form = submissions.form(name, caller).form();
    Gate.pass(Gate.mayAdd(caller, form), caller);
    Input nothing = new Input(Map.of(), Input.Door.JSON);
    Verdict verdict =
        submissions.check(
            form, nothing, submissions.context(caller, Optional.empty()), caller, Optional.empty());
    FormView view =
        pages.view(
            request, form, Optional.empty(), verdict.values(), List.of(), List.of(), List.of());
    return pages.page(HttpStatus.OK, view, Said.take(request, response));
  }

  @PostMapping
  ResponseEntity<byte[]> add(
      @PathVariable("form") String name, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Caller caller = Caller.current();
    PublishedForm published = submissions.form(name, caller);
    return log.follow(
        request, published, "add", attempt -> added(request, response, published.form(), attempt));
  }

  private ResponseEntity<byte[]> added(
      HttpServletRequest request, HttpServletResponse response, Form form, Attempted attempt)
      throws IOException {
    Caller caller = Caller.current();
    Gate.pass(Gate.mayAdd(caller, form), caller);
    Body.Typed body = Body.typed(request);
    Input input = Body.submission(body);
    Optional<RowPress> press = RowPress.of(form, input);
    if (press.isPresent()) {
      attempt.dismiss();
      return pages.pressed(request, form, Optional.empty(), press.get());
    }
    Sent sent = pages.sent(request, body, form, Mode.ADD, input);
    return pages.once(
        request,
        response,
        form,
        Optional.empty(),
        input,
        sent,
        attempt,
        () ->
            switch (submissions.add(form.name(), input, caller, sent, attempt)) {
              case Answer.Accepted<StoredRecord>(StoredRecord record) ->
                  pages.onwards(form, Mode.ADD, record, response);
              case Answer.Refused<StoredRecord>(Verdict verdict) ->
                  pages.refused(request, form, Optional.empty(), verdict, List.of());
            });
  }
}
