package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.math.BigDecimal;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Access;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Pages;
import nodley.core.submission.Sentences;
import nodley.core.value.Value;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Query;
import nodley.service.problem.Problem;
import nodley.service.submission.CostlyReads;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.Listing;
import nodley.store.record.Records;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/**
 * Shows all forms, the records of one form, and one record, with and without script. What a caller
 * may not see is not on them, and not counted either.
 */
@RestController
class RecordPages {

  private static final int PAGE = 25;

  /** Maximum number of columns in a list of records, besides the name. */
  private static final int COLUMNS = 4;

  private final Store store;
  private final Submissions submissions;
  private final Templates templates;
  private final ServicePages pages;
  private final ThemeController looks;
  private final RecordLines lines;
  private final CostlyReads costlyReads;

  /** What stands together, under a title or none. */
  record Card(String title, List<RecordLines.Line> lines) {}

  /** A record in a list. */
  record RowView(String id, String called, List<RecordLines.Line> cells) {}

  RecordPages(
      Store store,
      Submissions submissions,
      Templates templates,
      ServicePages pages,
      ThemeController looks,
      RecordLines lines,
      CostlyReads costlyReads) {
    this.lines = lines;
    this.costlyReads = costlyReads;
    this.looks = looks;
    this.store = store;
    this.submissions = submissions;
    this.templates = templates;
    this.pages = pages;
  }

  @Needs(Right.NOTHING)
  @GetMapping({"/", "/forms"})
  ResponseEntity<byte[]> forms(HttpServletRequest request, HttpServletResponse response) {
    Caller caller = Caller.current();
    List<Map<String, Object>> forms = new ArrayList<>();
    for (PublishedForm published : store.forms().all()) {
      Form form = Authorization.seen(published, caller).form();
      if (Authorization.mayUse(caller, form)) {
        boolean maySee = Authorization.maySeeSome(caller, form);
        forms.add(
            Map.of(
                "name", form.name(),
                "title", form.titles().list(),
                "add", form.titles().add().text(),
                "intro", form.pages().intro(),
                "records", maySee && !form.isOne() ? records(form, caller) : "",
                "mayAdd", Authorization.mayAdd(caller, form) && !form.isOne(),
                "maySee", maySee));
      }
    }
    return pages.page(
        HttpStatus.OK,
        "forms",
        "forms",
        Map.of("forms", forms),
        OutcomeCookie.take(request, response));
  }

  private String records(Form form, Caller caller) {
    Optional<String> owner = Authorization.visibleOwner(caller, form);
    BigDecimal count = BigDecimal.valueOf(store.records().count(form, owner).records());
    return Sentences.of(form).word("page.records", Map.of("count", new Value.Number(count)));
  }

  @Needs(Right.OPEN)
  @GetMapping("/forms/{form}")
  ResponseEntity<byte[]> list(Form form, HttpServletRequest request, HttpServletResponse response) {
    Caller caller = Caller.current();
    boolean isOwnAlone = form.isOneEach() && !Authorization.maySee(caller, form);
    if (form.isOne() || isOwnAlone) {
      return only(form, caller, request, response);
    }
    Query query = Query.of(request, "q", "before");
    String words = query.words();
    Optional<String> before = query.get("before");
    if (before.filter(id -> !id.matches("[0-9a-f-]{36}")).isPresent()) {
      throw Problem.badQuery("This page of the list is not there. Begin with the first.");
    }
    Records.Page page =
        costlyReads.run(
            () ->
                store
                    .records()
                    .list(
                        form,
                        listing(words, before).ownedBy(Authorization.visibleOwner(caller, form))));
    List<Field> columns = columns(form);
    List<RowView> rows =
        page.records().stream()
            .map(
                record ->
                    new RowView(
                        record.id(),
                        form.called(record.values(), lines.display(form, caller)),
                        columns.stream()
                            .map(
                                field ->
                                    lines.of(
                                        form, field, Optional.of(record), record.values(), caller))
                            .toList()))
            .toList();
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("name", form.name());
    view.put("title", form.titles().list());
    view.put("label", form.label());
    view.put("add", form.titles().add().text());
    view.put("mayAdd", Authorization.mayAdd(caller, form));
    view.put("words", words);
    view.put("wordsInAddress", URLEncoder.encode(words, StandardCharsets.UTF_8));
    view.put(
        "columns",
        columns.stream()
            .map(it -> Map.of("label", it.label(), "number", it.type().isNumber()))
            .toList());
    view.put("rows", rows);
    view.put("hasRows", !rows.isEmpty());
    view.put("next", page.next().map(keys -> keys.getLast().toString()).orElse(""));
    view.put("later", before.isPresent());
    view.put("none", none(Sentences.of(form), words));
    return html(
        looks.of(form),
        Sentences.of(form),
        form.titles().list(),
        "list",
        view,
        OutcomeCookie.take(request, response));
  }

  private static Listing listing(String words, Optional<String> before) {
    Listing newest = Listing.newest(words, PAGE);
    return before.map(id -> newest.after(List.of(id))).orElse(newest);
  }

  private static String none(Sentences say, String words) {
    return words.isEmpty()
        ? say.word("page.no-records", Map.of())
        : say.word("page.no-match", Map.of("words", new Value.Text(words)));
  }

  /** The first fields that the record's name does not say already. */
  private static List<Field> columns(Form form) {
    List<String> said = form.called().map(called -> called.names()).orElse(List.of());
    return form.fields().onPages().stream()
        .filter(field -> !said.contains(field.name()))
        .filter(field -> field.isKept() && !field.isSecret() && field.type().isScalar())
        .limit(COLUMNS)
        .toList();
  }

  @Needs(Right.SEE)
  @GetMapping("/forms/{form}/{id}")
  ResponseEntity<byte[]> show(
      Form form,
      @PathVariable String id,
      HttpServletRequest request,
      HttpServletResponse response) {
    return show(form, submissions.record(form, id), request, response);
  }

  /** The only record, or the page that makes it. */
  private ResponseEntity<byte[]> only(
      Form form, Caller caller, HttpServletRequest request, HttpServletResponse response) {
    Optional<StoredRecord> record = submissions.only(form, caller);
    boolean mayMake = form.isOneEach() && Authorization.mayAdd(caller, form);
    if (record.isEmpty() && mayMake) {
      return FormPages.onwards("/forms/" + form.name() + "/edit");
    }
    if (Authorization.mayEdit(caller, form)
        && (record.isEmpty() || !Authorization.maySee(caller, form))) {
      return FormPages.onwards("/forms/" + form.name() + "/edit");
    }
    return show(
        form,
        record.orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-such-record",
                    "There is no such record",
                    "Nothing has been saved here yet.")),
        request,
        response);
  }

  private ResponseEntity<byte[]> show(
      Form form, StoredRecord record, HttpServletRequest request, HttpServletResponse response) {
    Caller caller = Caller.current();
    String called = form.called(record.values(), lines.display(form, caller));
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("name", form.name());
    view.put("title", form.titles().list());
    view.put("id", record.id());
    view.put("isOne", form.isOne());
    view.put("called", called);
    view.put("mayEdit", Authorization.may(caller, form, Access::edit, record));
    String saved = record.updatedAt().substring(0, 16).replace('T', ' ') + " UTC";
    view.put(
        "version",
        Sentences.of(form)
            .word(
                "page.version",
                Map.of(
                    "version", new Value.Number(BigDecimal.valueOf(record.version())),
                    "time", new Value.Text(saved))));
    view.put("cards", cards(form, record, caller));
    return html(
        looks.of(form),
        Sentences.of(form),
        called,
        "record",
        view,
        OutcomeCookie.take(request, response));
  }

  /** What a record holds, as its form's sections have it. */
  private List<Card> cards(Form form, StoredRecord record, Caller caller) {
    List<Card> cards = new ArrayList<>();
    List<Pages.Section> sections = form.pages().sections();
    for (Pages.Section section : sections) {
      cards.add(new Card(section.title(), lines(form, record, caller, section.fields())));
    }
    if (sections.isEmpty()) {
      cards.add(
          new Card(
              "",
              lines(
                  form, record, caller, form.fields().list().stream().map(Field::name).toList())));
    }
    return cards.stream().filter(card -> !card.lines().isEmpty()).toList();
  }

  private List<RecordLines.Line> lines(
      Form form, StoredRecord record, Caller caller, List<String> names) {
    return lines.of(form, Optional.of(record), record.values(), caller, names);
  }

  private ResponseEntity<byte[]> html(
      PageTheme look, Sentences words, String title, String content, Object view, String said) {
    return templates.reply(HttpStatus.OK, look, words, title, content, view, said);
  }
}
