package nodley.store.publish;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.Listing;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A publish is tried out beside the writer, and comes to what it would come to in its turn. */
class DryRunTest {

  private static final String BOATS =
      """
      form: boat
      fields:
        name: { type: text, required: true }
        length: { type: decimal }
        crew: { type: rows, fields: { badge: { type: text } } }
      """;

  /** A rule that takes each record some time, and none falls short of. */
  private static final String SLOW =
      BOATS
          + "rules:\n"
          + IntStream.range(0, 40)
              .mapToObj(
                  n ->
                      "  - { must: 'not matches(name, \"(b|o|a|t|s|e)+x%d\")', at: name }\n"
                          .formatted(n))
              .reduce("", String::concat);

  private static final String SHORT = BOATS.replace("decimal", "decimal, range: ..50");

  @TempDir Path folder;
  private Store store;

  @BeforeEach
  void open() {
    store = Store.open(folder);
    publish(BOATS);
  }

  @AfterEach
  void close() {
    store.close();
  }

  private FormPublisher.Outcome publish(String text) {
    return TestSubmissions.publish(store, text, FormPublisher.Manner.CAREFUL).outcome();
  }

  private FormPublisher.Outcome preview(String text) {
    return TestSubmissions.publish(store, text, FormPublisher.Manner.PREVIEW).outcome();
  }

  private PublishedForm boat() {
    return store.forms().find("boat").orElseThrow();
  }

  private void add(String name, double length) {
    add(boat(), name, length);
  }

  private void add(PublishedForm form, String name, double length) {
    Values crew = new Values(Map.of("badge", new Value.Text("B-" + name)));
    TestSubmissions.add(
        store,
        form,
        new Values(
            Map.of(
                "name", new Value.Text(name),
                "length", new Value.Number(BigDecimal.valueOf(length)),
                "crew", new Value.Rows(List.of(crew)))));
  }

  @Test
  void recordsAreAddedWhileKeptOnesAreLookedAt() {
    for (int i = 0; i < 3_000; i++) {
      add("boat " + i, 10);
    }
    for (String text :
        List.of(SLOW, SLOW.replace("badge:", "number: { was: badge, type: text }, x:"))) {
      CompletableFuture<FormPublisher.Outcome> preview =
          CompletableFuture.supplyAsync(() -> preview(text));
      int added = 0;
      while (!preview.isDone()) {
        add("later " + added++, 10);
      }
      assertThat(preview.join().fallsShort()).isEmpty();
      // In the writer's turn it would keep all but the first and the last of them waiting.
      assertThat(added).as("added meanwhile").isGreaterThan(10);
    }
  }

  @Test
  void whatIsWrittenMeanwhileIsLookedAtToo() {
    List<Long> kept = new ArrayList<>();
    for (int round = 0; round < 30; round++) {
      PublishedForm allowing = boat();
      long before = store.records().count(boat().form(), Optional.empty()).records();
      CompletableFuture<Boolean> published =
          CompletableFuture.supplyAsync(
              () -> {
                try {
                  publish(SHORT);
                  return true;
                } catch (StoreException.MigrationConflict e) {
                  assertThat(e.isForceable()).isTrue();
                  return false;
                }
              });
      // By the form that allows it: once the other is published, the store refuses to keep it.
      try {
        add(allowing, "n", 60);
      } catch (StoreException.FormChanged e) {
        // It came first.
      }
      long added = store.records().count(boat().form(), Optional.empty()).records() - before;
      assertThat(published.join())
          .as("published, %d added in round %d", added, round)
          .isEqualTo(added == 0);
      kept.add(added);
      TestSubmissions.publish(store, BOATS, FormPublisher.Manner.CAREFUL);
      for (StoredRecord record :
          store.records().list(boat().form(), Listing.newest("", 10)).records()) {
        store.recordWriter().remove(boat().form(), record.id(), record.version());
      }
    }
    assertThat(kept).contains(1L);
  }

  @Test
  void tablesAreChangedInACopyOnly() {
    add("Gull", 60);
    add("Tern", 12);
    String other =
        """
        form: boat
        fields:
          title: { type: text, was: name, unique: true }
          length: { type: text }
          men: { type: rows, was: crew, fields: { badge: { type: integer } } }
        """;
    FormPublisher.Outcome outcome = preview(other);
    assertThat(outcome.changes())
        .extracting(change -> change.kind().word() + " " + change.field())
        .contains("renamed title", "unique title", "converted length", "renamed men");
    assertThat(outcome.objections())
        .singleElement()
        .satisfies(it -> assertThat(it.field()).isEqualTo("men.badge"));
    assertThatThrownBy(() -> publish(other)).isInstanceOf(StoreException.MigrationConflict.class);
    assertThat(store.records().list(boat().form(), Listing.newest("", 10)).records())
        .extracting(record -> record.values().toJson().toString())
        .containsExactlyInAnyOrder(
            "{name=Gull, length=60, crew=[{badge=B-Gull}]}",
            "{name=Tern, length=12, crew=[{badge=B-Tern}]}");
    assertThat(
            publish(other.replace("badge: { type: integer }", "badge: { type: text }"))
                .objections())
        .isEmpty();
  }

  @Test
  void aTableThatIsFullIsToldWithWords() {
    publish(wide("a", 1_200));
    FormPublisher.Outcome outcome = preview(wide("b", 1_200));
    assertThat(outcome.objections())
        .singleElement()
        .satisfies(
            it ->
                assertThat(it.detail())
                    .startsWith("A table has room for 2000 columns: there are 1210,")
                    .contains("needs 1200 more", "nodley form wide --forget FIELD"));
    assertThatThrownBy(() -> publish(wide("b", 1_200)))
        .isInstanceOf(StoreException.MigrationConflict.class);
  }

  private static String wide(String letter, int fields) {
    return "form: wide\nfields:\n"
        + IntStream.range(0, fields)
            .mapToObj(n -> "  %s%d: { type: text }\n".formatted(letter, n))
            .reduce("", String::concat);
  }

  @Test
  void whatIsHardlyMeantIsTold() {
    String before =
        """
        form: gear
        fields:
          kind: { type: choice, options: [oar, sail, coal] }
          extras: { type: choices, options: [anchor, buoy] }
          note: { type: text }
          name: { type: text }
          length: { type: decimal }
        """;
    publish(before);
    PublishedForm gear = store.forms().find("gear").orElseThrow();
    for (String kind : List.of("coal", "coal", "oar")) {
      TestSubmissions.add(
          store,
          gear,
          new Values(
              Map.of(
                  "kind", new Value.Text(kind),
                  "extras", new Value.Chosen(List.of("anchor", "buoy")),
                  "note", new Value.Text("x"))));
    }
    FormPublisher.Outcome outcome =
        preview(
            """
            form: gear
            fields:
              kind: { type: choice, options: [oar] }
              extras: { type: choices, options: [anchor] }
              remark: { type: text }
              name: { type: text }
              width: { type: integer }
            """);
    assertThat(outcome.objections()).isEmpty();
    assertThat(outcome.fallsShort()).isEmpty();
    assertThat(outcome.changes())
        .extracting(change -> change.kind().word() + " " + change.field() + ": " + change.detail())
        .contains(
            "option-dropped kind: \"coal\" is offered no longer; 2 records have it, and keep it"
                + " until it is changed.",
            "option-dropped extras: \"buoy\" is offered no longer; 3 records have it, and keep it"
                + " until it is changed.",
            "retired note: Its column stays, with 3 kept values, until `nodley form gear --forget"
                + " note`. If `remark` is what it is called now, let that say `was: note`.")
        .noneMatch(told -> told.contains("\"sail\""))
        .noneMatch(told -> told.startsWith("retired length") && told.contains("was:"));
  }
}
