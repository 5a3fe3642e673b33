package nodley.store.record;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import nodley.core.expression.BadExpression;
import nodley.core.expression.Expression;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.RecordNames;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Selection;
import nodley.core.submission.Submission;
import nodley.core.value.Values;
import nodley.store.RawQuery;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.common.StoredRecord;
import nodley.store.folder.DataFolder;
import nodley.store.publish.FormPublisher;
import nodley.store.schema.Table;
import nodley.store.sqlite.Sql;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which records a condition picks, in which order, and from where on. */
class ListingTest {

  private static final String THING =
      """
      form: thing
      fields:
        name: { type: text }
        kind: { type: choice, options: [sail, motor, row] }
        crew: { type: integer }
        length: { type: decimal }
        power: { type: boolean }
        built: { type: date }
        from: { type: time }
        seen: { type: datetime }
        tags: { type: choices, options: [a, b, c] }
        home: { type: group, fields: { bay: { type: text } } }
        hands: { type: rows, fields: { share: { type: decimal } } }
      """;

  private static final Context NOW = Context.add(Clock.systemUTC());

  @TempDir private Path folder;
  private Store store;
  private Form form;

  @BeforeEach
  void open() throws FormFileException {
    store = Store.open(folder);
    Form read = FormFile.read(THING, Format.YAML, FormRegistry.UNKNOWN);
    form =
        store
            .publisher()
            .publish(read, THING, Format.YAML, FormPublisher.Manner.CAREFUL)
            .form()
            .form();
    Random random = new Random(7);
    for (int i = 0; i < 300; i++) {
      add(made(random, i));
    }
  }

  @AfterEach
  void close() {
    store.close();
  }

  private void add(String json) {
    TestSubmissions.add(store, store.forms().find("thing").orElseThrow(), values(json));
  }

  private Values values(String json) {
    try {
      Input input = JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
      return Submission.check(form, input, NOW, Lookups.NONE).values();
    } catch (Unreadable e) {
      throw new AssertionError(e);
    }
  }

  /** A third of the values are blank. */
  private static String made(Random random, int i) {
    List<String> members = new ArrayList<>();
    String[] all = {
      "\"name\":\"%s\""
          .formatted(
              List.of("Heron", "heron", "Ä", "Z", "é", "\uD83D\uDE00").get(random.nextInt(6))),
      "\"kind\":\"%s\"".formatted(List.of("sail", "motor", "row").get(random.nextInt(3))),
      "\"crew\":%d".formatted(random.nextInt(-3, 9)),
      "\"length\":%s".formatted(new BigDecimal(random.nextInt(40)).movePointLeft(1)),
      "\"power\":%s".formatted(random.nextBoolean()),
      "\"built\":\"20%02d-0%d-1%d\""
          .formatted(random.nextInt(30), 1 + random.nextInt(9), random.nextInt(9)),
      "\"from\":\"0%d:3%d\"".formatted(random.nextInt(9), random.nextInt(9)),
      "\"seen\":\"2027-03-01T12:00:0%d.%dZ\"".formatted(random.nextInt(3), random.nextInt(2) * 5),
      "\"tags\":[\"a\"%s]".formatted(random.nextBoolean() ? ",\"b\"" : ""),
      "\"home\":{\"bay\":\"%d\"}".formatted(random.nextInt(4)),
      "\"hands\":[{\"share\":0.1},{\"share\":%s}]".formatted(random.nextBoolean() ? "0.2" : "0.3")
    };
    for (String member : all) {
      if (random.nextInt(3) > 0) {
        members.add(member);
      }
    }
    return "{" + String.join(",", members) + "}";
  }

  private Listing listing(String where, String sort, int limit) {
    Optional<Listing.Where> condition =
        where.isEmpty() ? Optional.empty() : Optional.of(where(where));
    List<Listing.Order> order = new ArrayList<>();
    for (String part : sort.isEmpty() ? new String[0] : sort.split(",")) {
      boolean down = part.startsWith("-");
      order.add(new Listing.Order(List.of(part.substring(down ? 1 : 0).split("\\.")), down));
    }
    return new Listing("", condition, order, Optional.empty(), limit, Optional.empty());
  }

  private Listing.Where where(String text) {
    try {
      Expression condition =
          Expression.condition(text, RecordNames.in(form, FormRegistry.UNKNOWN, _ -> true));
      Selection selection = new Selection(form, condition, NOW, Lookups.NONE);
      return new Listing.Where(condition.toJson(), it -> selection.holds(it.values()));
    } catch (BadExpression e) {
      throw new AssertionError(text, e);
    }
  }

  /** All pages, one after the other. */
  private List<StoredRecord> all(Listing listing) {
    List<StoredRecord> all = new ArrayList<>();
    Listing here = listing;
    while (true) {
      Records.Page page = store.records().list(form, here);
      assertThat(page.records()).hasSizeLessThanOrEqualTo(listing.limit());
      all.addAll(page.records());
      if (page.next().isEmpty()) {
        return all;
      }
      here = listing.after(page.next().get());
    }
  }

  /** What SQLite narrows down is what the core would pick from all records, no more and no less. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "crew > 3",
        "crew = 3 or length <= 1.5",
        "not (crew > 3)",
        "not (crew > 3 and power)",
        "power",
        "not power",
        "power = false",
        "power is blank or crew != 2",
        "name = \"Heron\"",
        "name < \"Z\"",
        "name >= \"é\"",
        "lower(name) = \"heron\" and crew >= 0",
        "not (lower(name) = \"heron\") and kind = \"sail\"",
        "not (lower(name) = \"heron\" and kind = \"sail\")",
        "lower(name) = \"heron\" or kind = \"sail\"",
        "kind in [\"sail\", \"row\"]",
        "not (kind in [\"sail\", \"row\"])",
        "tags has \"b\"",
        "not (tags has \"b\")",
        "built >= date(\"2015-03-11\") and built < date(\"2020-01-01\")",
        "built + 30 > date(\"2020-01-01\")",
        "seen = seen and crew = 1",
        "home.bay = \"2\"",
        "home is blank",
        "sum(hands.share) = 0.3",
        "count(hands) = 0 and power",
        "length + 0.1 = 0.3 or length * 3 = 0.9",
        "length = 0.3",
        "crew = length",
        "if power then crew > 2 else length > 2",
        "hands is blank or not (crew in [1, 2, 3])",
        "true",
        "crew > 100"
      })
  void aConditionPicksWhatTheCoreWouldPick(String condition) {
    List<StoredRecord> every = all(listing("", "", 1_000));
    assertThat(every).hasSize(300);
    List<String> expected =
        every.stream()
            .filter(record -> where(condition).holds().test(record))
            .map(StoredRecord::id)
            .toList();
    assertThat(all(listing(condition, "", 7)))
        .extracting(StoredRecord::id)
        .containsExactlyElementsOf(expected);
    // The other way round: what SQLite left out, the core would not have picked.
    assertThat(
            ConditionSql.of(where(condition).tree(), Table.of(form).getFirst())
                .map(it -> narrowed(it).containsAll(expected))
                .orElse(true))
        .isTrue();
  }

  private List<String> narrowed(ConditionSql narrowing) {
    try (Connection on =
        DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(DataFolder.FILE))) {
      return Sql.list(
          on,
          row -> row.getString(1),
          "SELECT id FROM thing WHERE " + narrowing.sql(),
          narrowing.bound().toArray());
    } catch (SQLException e) {
      throw new AssertionError(narrowing.sql(), e);
    }
  }

  @Test
  void itIsNarrowedByAnIndexWhereThereIsOne() throws Exception {
    ConditionSql narrowing =
        ConditionSql.of(
                where("crew > 3 and lower(name) = \"heron\"").tree(), Table.of(form).getFirst())
            .orElseThrow();
    assertThat(narrowing.sql()).isEqualTo("(\"crew\" > ?)");
    assertThat(narrowing.bound()).containsExactly(3L);
    assertThat(
            ConditionSql.of(
                where("crew > 3 or lower(name) = \"x\"").tree(), Table.of(form).getFirst()))
        .isEmpty();
  }

  /** Every record comes once, each page begins where the last one ended. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "name",
        "-name",
        "crew,-length",
        "-power,built",
        "home.bay,-crew,name",
        "createdAt",
        "-updatedAt,kind"
      })
  void pagesFollowTheOrderWhateverIsBlank(String sort) throws Exception {
    List<StoredRecord> sorted = all(listing("", sort, 7));
    String order =
        String.join(
            ", ",
            Arrays.stream(sort.split(","))
                .map(it -> it.startsWith("-") ? quoted(it.substring(1)) + " DESC" : quoted(it))
                .toList());
    assertThat(sorted)
        .extracting(StoredRecord::id)
        .containsExactlyElementsOf(
            RawQuery.lines(folder, "SELECT id FROM thing ORDER BY " + order + ", id DESC"));
  }

  private static String quoted(String name) {
    String own = name.replace("At", "_at");
    return "\""
        + (List.of("createdAt", "updatedAt").contains(name) ? own.toLowerCase(Locale.ROOT) : name)
        + "\"";
  }

  @Test
  void aCountIsExactWhileItIsCheap() {
    assertThat(store.records().count(form, Optional.empty()))
        .isEqualTo(new Records.Count(300, false));
  }
}
