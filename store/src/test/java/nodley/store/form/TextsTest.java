package nodley.store.form;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.file.TextsFile;
import nodley.core.form.Form;
import nodley.store.RawQuery;
import nodley.store.Store;
import nodley.store.common.StoreException;
import nodley.store.publish.FormPublisher;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Texts by language as the store keeps them: they change what a form says, and nothing else. */
class TextsTest {

  private static final String BOAT =
      "form: boat\nfields: { name: { type: text }, rig: { type: text } }";

  @TempDir private Path folder;
  private Store store;

  @BeforeEach
  void open() throws Exception {
    store = Store.open(folder);
    publish(BOAT);
    share("boat.de", "fields: { name: { label: Bootsname } }");
    share("boat.pt-BR", "fields: { name: { label: Nome } }");
    share("boat.zh-Hant", "fields: { name: { label: \u8239\u540d } }");
  }

  @AfterEach
  void close() {
    store.close();
  }

  private void publish(String text) throws FormFileException {
    Form form = FormFile.read(text, Format.YAML, store.forms().registry());
    store.publisher().publish(form, text, Format.YAML, FormPublisher.Manner.CAREFUL);
  }

  private FormPublisher.Change share(String name, String text) throws FormFileException {
    return store
        .publisher()
        .share(
            new Forms.SharedText(Forms.Kind.TEXTS, name, Format.YAML, text),
            FormPublisher.Manner.CAREFUL)
        .change();
  }

  private String label(String wanted) {
    List<Locale> languages = Arrays.stream(wanted.split(" ")).map(Locale::forLanguageTag).toList();
    return store
        .forms()
        .find("boat")
        .orElseThrow()
        .in(languages)
        .form()
        .field("name")
        .orElseThrow()
        .label();
  }

  /**
   * "Lookup" of RFC 4647, section 3.4: a range is shortened from its end until something is there.
   */
  @ParameterizedTest
  @CsvSource({
    "de, Bootsname",
    "de-CH-1996, Bootsname",
    "pt-BR, Nome",
    "pt, Name",
    "pt-PT, Name",
    "zh-Hant-CN-x-private1, \u8239\u540d",
    "zh-Hans, Name",
    "fr de, Bootsname",
    "en de, Name",
    "es, Name"
  })
  void theBestLanguageThatIsThereIsTaken(String wanted, String label) {
    assertThat(label(wanted)).isEqualTo(label);
  }

  @Test
  void textsChangeNeitherRevisionNorTablesAndOutliveARestart() throws Exception {
    PublishedForm before = store.forms().find("boat").orElseThrow();
    List<String> table =
        RawQuery.lines(folder, "SELECT sql FROM sqlite_schema WHERE name = 'boat'");
    assertThat(share("boat.de", "fields: { name: { label: Name am Bug } }"))
        .isEqualTo(FormPublisher.Change.REVISED);
    PublishedForm after = store.forms().find("boat").orElseThrow();
    assertThat(after.revision()).isEqualTo(before.revision());
    assertThat(after.edition()).isEqualTo(before.edition());
    assertThat(RawQuery.lines(folder, "SELECT sql FROM sqlite_schema WHERE name = 'boat'"))
        .isEqualTo(table);
    store.close();
    store = Store.open(folder);
    assertThat(label("de")).isEqualTo("Name am Bug");
    assertThat(store.publisher().unshare(Forms.Kind.TEXTS, "boat.de")).isTrue();
    assertThat(store.publisher().unshare(Forms.Kind.TEXTS, "boat.de")).isFalse();
    assertThat(label("de")).isEqualTo("Name");
  }

  @Test
  void aFormIsNotHeldUpByTheTextsOfAFieldThatItDrops() throws Exception {
    publish("form: boat\nfields: { rig: { type: text } }");
    assertThat(store.forms().texts("boat", Locale.GERMAN).orElseThrow().texts())
        .filteredOn(it -> it.state() == TextsFile.State.UNUSED)
        .extracting(TextsFile.Text::key)
        .containsExactly("fields.name");
    publish(BOAT);
    assertThat(label("de")).isEqualTo("Bootsname");
  }

  @Test
  void textsOfNoFormAndWithAWrongNameAreRefusedAndTheOthersStay() {
    assertThatThrownBy(() -> share("ship.de", "fields: {}"))
        .isInstanceOf(StoreException.NoForm.class)
        .hasMessageContaining("ship");
    assertThatThrownBy(() -> share("boat.de", "fields: { nmae: {} }"))
        .isInstanceOf(FormFileException.class);
    assertThat(label("de")).isEqualTo("Bootsname");
    assertThat(store.forms().texts("ship", Locale.GERMAN)).isEmpty();
  }
}
