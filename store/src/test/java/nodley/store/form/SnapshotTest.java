package nodley.store.form;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoreLimits;
import nodley.store.folder.DataFolder;
import nodley.store.publish.FormPublisher;
import nodley.store.sqlite.Sql;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Which forms are read anew, and when. */
class SnapshotTest {

  private static final String BERTH = "form: berth\nfields: { code: { type: text } }\n";
  private static final String VESSEL =
      "form: vessel\nfields: { berth: { type: record, form: berth }, name: { type: text } }\n";
  private static final String VISIT =
      """
      form: visit
      fields:
        vessel: { type: record, form: vessel }
        code: { type: text, compute: vessel.berth.code }
      """;
  private static final String ORDER =
      """
      form: order
      fields:
        service: { type: choice, options: { list: services } }
        contact: { type: group, use: contact }
      """;

  @TempDir Path folder;

  private static void publish(Store store, String text) {
    TestSubmissions.publish(store, text, FormPublisher.Manner.CAREFUL);
  }

  private static void share(Store store, Forms.Kind kind, String name, String text)
      throws FormFileException {
    store
        .publisher()
        .share(new Forms.SharedText(kind, name, Format.YAML, text), FormPublisher.Manner.CAREFUL);
  }

  private static void fill(Store store) throws FormFileException {
    share(store, Forms.Kind.LIST, "services", "list: services\noptions: [water, power]\n");
    share(store, Forms.Kind.PART, "contact", "part: contact\nfields: { email: { type: email } }\n");
    publish(store, BERTH);
    publish(store, VESSEL.replace("", ""));
    publish(store, VISIT);
    publish(store, ORDER);
    publish(store, "form: alone\nfields: { note: { type: text } }\n");
  }

  private static Map<String, Form> forms(Store store) {
    Map<String, Form> forms = new TreeMap<>();
    store.forms().all().forEach(form -> forms.put(form.name(), form.form()));
    return forms;
  }

  /** The names of the forms that are not the very ones of before. */
  private static Iterable<String> readAnew(Store store, Map<String, Form> before) {
    Map<String, Form> now = forms(store);
    now.entrySet().removeIf(form -> before.get(form.getKey()) == form.getValue());
    return now.keySet();
  }

  @Test
  void onlyWhatAChangeConcernsIsReadAnew() throws FormFileException {
    try (Store store = Store.open(folder)) {
      fill(store);
      Map<String, Form> before = forms(store);
      publish(store, BERTH.replace("text }", "text, label: Number }"));
      // `visit` looks through `vessel` at `berth`.
      assertThat(readAnew(store, before)).containsExactlyInAnyOrder("berth", "vessel", "visit");

      before = forms(store);
      publish(store, "form: alone\nfields: { note: { type: text, label: Words } }\n");
      assertThat(readAnew(store, before)).containsExactly("alone");

      before = forms(store);
      share(store, Forms.Kind.LIST, "services", "list: services\noptions: [water, crane]\n");
      assertThat(readAnew(store, before)).containsExactly("order");

      before = forms(store);
      share(
          store, Forms.Kind.PART, "contact", "part: contact\nfields: { phone: { type: phone } }\n");
      assertThat(readAnew(store, before)).containsExactly("order");
      assertThat(forms(store).get("order").fields().find("contact").orElseThrow().fields().names())
          .containsExactly("phone");
    }
  }

  @Test
  void whatOthersReferToStandsAgainstThem() throws FormFileException {
    try (Store store = Store.open(folder)) {
      fill(store);
      assertThatThrownBy(() -> publish(store, BERTH.replace("code", "number")))
          .isInstanceOfSatisfying(
              StoreException.Breaks.class, e -> assertThat(e.forms()).containsOnlyKeys("visit"));
      assertThatThrownBy(() -> store.publisher().unshare(Forms.Kind.LIST, "services"))
          .isInstanceOfSatisfying(
              StoreException.Breaks.class, e -> assertThat(e.forms()).containsOnlyKeys("order"));
    }
  }

  @Test
  void anotherBuildReadsAllAtTheStartAndTheSameOneAsItIsAsked() throws Exception {
    Optional<String> build = Optional.of("one");
    try (Store store = Store.open(folder, StoreLimits.DEFAULT, build)) {
      fill(store);
    }
    // As if this build read texts in another way.
    try (Connection on =
        DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(DataFolder.FILE))) {
      Sql.run(on, "UPDATE nodley_revisions SET text = ? WHERE form = 'alone'", "form: alone\n");
    }
    try (Store store = Store.open(folder, StoreLimits.DEFAULT, build)) {
      assertThat(store.forms().find("visit").orElseThrow().form().fields().names())
          .containsExactly("vessel", "code");
      PublishedForm alone = store.forms().find("alone").orElseThrow();
      assertThatThrownBy(alone::form)
          .isInstanceOf(StoreException.Unavailable.class)
          .hasMessageContaining("Form alone cannot be read by this Nodley")
          .hasMessageContaining("A form needs `fields`");
    }
    assertThatThrownBy(() -> Store.open(folder, StoreLimits.DEFAULT, Optional.of("another")))
        .isInstanceOf(StoreException.BadFolder.class)
        .hasMessageContaining("A form needs `fields`");
    assertThatThrownBy(() -> Store.open(folder, StoreLimits.DEFAULT, Optional.empty()))
        .isInstanceOf(StoreException.BadFolder.class);
  }
}
