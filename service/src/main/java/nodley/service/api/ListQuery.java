package nodley.service.api;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.BadExpression;
import nodley.core.expression.Expression;
import nodley.core.file.RecordNames;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.submission.Selection;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.core.value.Wellformed;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Query;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import nodley.store.record.Listing;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The parameters of a list of records: {@code q}, {@code where}, {@code sort}, paging. Conditions
 * are typed against the form; whatever is misspelt is 400 with the name that was probably meant.
 * For one request.
 */
final class ListQuery {

  private static final int PAGE = 50;
  private static final int MAX_PAGE = 1_000;
  private static final int MAX_SORT = 5;
  private static final JsonMapper JSON = JsonMapper.shared();

  private final Store store;
  private final Form form;
  private final Caller caller;
  private final Query query;
  private final Listing listing;

  ListQuery(Store store, Submissions submissions, Form form, Query query, Caller caller) {
    this.store = store;
    this.form = form;
    this.caller = caller;
    this.query = query;
    Listing first =
        new Listing(
            query.words(),
            query.get("where").map(text -> where(text, submissions)),
            query.get("sort").map(this::order).orElse(List.of()),
            Optional.empty(),
            query.number("limit", PAGE, MAX_PAGE),
            Authorization.visibleOwner(caller, form));
    this.listing = query.get("cursor").map(it -> first.after(keys(it, first))).orElse(first);
  }

  static String[] names() {
    return new String[] {"q", "where", "sort", "limit", "cursor"};
  }

  Listing listing() {
    return listing;
  }

  private Listing.Where where(String text, Submissions submissions) {
    try {
      Expression condition =
          Expression.condition(
              text,
              RecordNames.in(
                  form,
                  store.forms().registry(),
                  field -> Authorization.mayName(caller, form.name(), field)));
      Selection selection = submissions.selection(form, condition, caller);
      boolean readsOwn = RecordNames.readsOwn(form, condition);
      return new Listing.Where(
          condition.toJson(),
          record -> selection.holds(readsOwn ? withOwn(record) : record.values()));
    } catch (BadExpression e) {
      throw Problem.badQuery(
          "\"where\" goes wrong at its character " + (e.offset() + 1) + ": " + e.getMessage());
    }
  }

  private static Values withOwn(StoredRecord record) {
    Map<String, Value> own = new HashMap<>();
    own.put(RecordNames.CREATED_AT, moment(record.createdAt()));
    own.put(RecordNames.UPDATED_AT, moment(record.updatedAt()));
    own.put(RecordNames.CONFIRMED_AT, moment(record.confirmedAt()));
    return RecordNames.with(own, record.values());
  }

  private static Value moment(String text) {
    return text.isEmpty() ? Value.BLANK : new Value.Moment(Instant.parse(text));
  }

  private List<Listing.Order> order(String text) {
    List<Listing.Order> order = new ArrayList<>();
    for (String part : text.split(",", -1)) {
      boolean descending = part.startsWith("-");
      List<String> path = Arrays.asList(part.substring(descending ? 1 : 0).split("\\.", -1));
      if (form.fields().find(path).isPresent()
          || !RecordNames.own(form).contains(String.join(".", path))) {
        check(path);
      }
      order.add(new Listing.Order(path, descending));
    }
    if (order.size() > MAX_SORT) {
      throw Problem.badQuery("\"sort\" takes up to " + MAX_SORT + " fields.");
    }
    return order;
  }

  private Optional<Field> find(List<String> path) {
    return form.fields()
        .find(path)
        .filter(field -> Authorization.mayName(caller, form.name(), field));
  }

  private void check(List<String> path) {
    String name = Wellformed.of(String.join(".", path));
    Field field = find(path).orElse(null);
    boolean placed =
        field != null
            && form.fields().columns().stream().anyMatch(it -> it.path().equals(path))
            && field.type() != Type.CHOICES
            && field.type() != Type.FILE;
    if (field == null || !placed) {
      List<String> known = new ArrayList<>(RecordNames.own(form));
      form.fields().columns().stream()
          .filter(it -> Authorization.mayName(caller, form.name(), it.field()))
          .forEach(it -> known.add(it.dotted()));
      throw Problem.badQuery(
          "\"sort\" names \""
              + name
              + "\", "
              + (field == null
                  ? "which the form does not have."
                  : "which has no one value that is kept.")
              + (field == null
                  ? Near.to(name, known).map(it -> " Did you mean \"" + it + "\"?").orElse("")
                  : ""));
    }
    if (field.isSecret()) {
      throw Problem.badQuery("\"sort\" names \"" + name + "\", which is a secret.");
    }
  }

  /** A cursor is good for the list that gave it: the same form, words, condition and order. */
  private String purpose() {
    return String.join(
        "\n",
        "cursor",
        form.name(),
        query.words(),
        query.get("where").orElse(""),
        query.get("sort").orElse(""));
  }

  private List<Object> keys(String cursor, Listing listing) {
    return store
        .tokens()
        .open(purpose(), cursor)
        .map(ListQuery::keys)
        .filter(keys -> keys.size() == listing.order().size() + 1)
        .orElseThrow(
            () ->
                Problem.badQuery(
                    "\"cursor\" is not one that a page of this list gave. Begin again without"
                        + " it."));
  }

  private static List<Object> keys(String json) {
    List<Object> keys = new ArrayList<>();
    for (JsonNode key : JSON.readTree(json)) {
      keys.add(
          key.isNull()
              ? null
              : key.isIntegralNumber()
                  ? (Object) key.asLong()
                  : key.isNumber() ? (Object) key.asDouble() : key.asString());
    }
    return keys;
  }

  String cursor(List<Object> keys) {
    return store.tokens().seal(purpose(), Json.text(keys));
  }

  /** The address of the next page. */
  String next(String cursor) {
    var address = new StringBuilder("/api/forms/" + form.name() + "/records?limit=");
    address.append(listing.limit());
    for (String name : List.of("q", "where", "sort")) {
      query
          .get(name)
          .ifPresent(
              it ->
                  address
                      .append('&')
                      .append(name)
                      .append('=')
                      .append(URLEncoder.encode(it, StandardCharsets.UTF_8)));
    }
    return address.append("&cursor=").append(cursor).toString();
  }
}
