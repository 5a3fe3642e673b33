package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * Shows the page of a form that has one record only: it edits the record, or creates it with the
 * first save.
 */
@RestController
@RequestMapping("/forms/{form}/edit")
class SingleRecordPage {

  private final Submissions submissions;
  private final AddPage adding;
  private final EditPage editing;

  SingleRecordPage(Submissions submissions, AddPage adding, EditPage editing) {
    this.submissions = submissions;
    this.adding = adding;
    this.editing = editing;
  }

  @Needs(Right.SEE_AND_EDIT)
  @GetMapping
  ResponseEntity<byte[]> open(Form form, HttpServletRequest request, HttpServletResponse response) {
    Optional<StoredRecord> record = only(form);
    return record.isPresent()
        ? editing.filled(form, record.get().id(), request, response)
        : adding.filled(addable(form), request, response);
  }

  @Needs(Right.SEE_AND_EDIT)
  @PostMapping
  ResponseEntity<byte[]> save(
      PublishedForm published, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Optional<StoredRecord> record = only(published.form());
    if (record.isEmpty()) {
      addable(published.form());
    }
    return record.isPresent()
        ? editing.edit(published, record.get().id(), request, response)
        : adding.add(published, request, response);
  }

  /** Who may edit what is theirs may not add it for that. */
  private static Form addable(Form form) {
    if (form.isOneEach() && !Authorization.mayAdd(Caller.current(), form)) {
      throw Authorization.refusal(Caller.current(), form);
    }
    return form;
  }

  private Optional<StoredRecord> only(Form form) {
    if (!form.isOne() && !form.isOneEach()) {
      throw Problem.of(
          404,
          "no-such-record",
          "There is no such record",
          "Form " + form.name() + " has many records: choose one of them to edit.");
    }
    return submissions.only(form, Caller.current());
  }
}
