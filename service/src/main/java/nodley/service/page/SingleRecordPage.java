package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
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

  private final Store store;
  private final Submissions submissions;
  private final AddPage adding;
  private final EditPage editing;

  SingleRecordPage(Store store, Submissions submissions, AddPage adding, EditPage editing) {
    this.store = store;
    this.submissions = submissions;
    this.adding = adding;
    this.editing = editing;
  }

  @GetMapping
  ResponseEntity<byte[]> open(
      @PathVariable("form") String name, HttpServletRequest request, HttpServletResponse response) {
    Form form = form(name);
    Optional<StoredRecord> record = store.records().only(form);
    return record.isPresent()
        ? editing.filled(name, record.get().id(), request, response)
        : adding.blank(form, request, response);
  }

  @PostMapping
  ResponseEntity<byte[]> save(
      @PathVariable("form") String name, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Form form = form(name);
    Optional<StoredRecord> record = store.records().only(form);
    return record.isPresent()
        ? editing.edit(name, record.get().id(), request, response)
        : adding.add(name, request, response);
  }

  /** Whoever may edit the record may make it. */
  private Form form(String name) {
    Caller caller = Caller.current();
    Form form = submissions.form(name, caller).form();
    if (!form.isOne()) {
      throw Problem.of(
          404,
          "no-such-record",
          "There is no such record",
          "Form " + form.name() + " has many records: choose one of them to edit.");
    }
    Authorization.pass(Authorization.mayEdit(caller, form), caller);
    return form;
  }
}
