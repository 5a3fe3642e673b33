package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.util.Optional;
import nodley.core.Repository;
import nodley.core.form.Form;
import nodley.core.form.Pages;
import nodley.core.form.Theme;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

/** How pages look: what a theme file may say, and what may not be read in it. */
class ThemeFileTest {

  private static Theme theme(String text) throws FormFileException {
    return ThemeFile.read(text, Format.YAML, Optional.empty());
  }

  @Test
  void aThemeSaysHowPagesLook() throws Exception {
    Theme theme =
        theme(
            """
            theme: quay
            scheme: light
            layout: columns
            colours:
              accent: "#7A2E1D"
              ink: { light: "#000000", dark: "#ffffff" }
            radius: 2.5
            font: Georgia, 'DejaVu Serif', serif
            logo: /page/nodley.svg
            classes: { control: our-control wide:our-1/2, row: our-row }
            styles: [/page/more.css, "https://styles.example/a.css?v=2"]
            """);
    assertThat(theme.layout()).isEqualTo(Pages.Layout.COLUMNS);
    assertThat(theme.classes(Theme.Part.CONTROL)).isEqualTo(" our-control wide:our-1/2");
    assertThat(theme.classes(Theme.Part.LABEL)).isEmpty();
    assertThat(theme.styles()).hasSize(2);
    assertThat(theme.css())
        .isEqualTo(
            """
            :root {
              color-scheme: light;
              --ink: light-dark(#000000, #ffffff);
              --accent: light-dark(#7a2e1d, #7a2e1d);
              --radius: 2.5px;
              font-family: Georgia, 'DejaVu Serif', serif;
            }
            """);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "theme: q\\ncolors: {}|2:1 unknown-key Did you mean `colours`?",
        "theme: q\\ncolours: { acent: \"#000000\" }|2:12 unknown-key Did you mean `accent`?",
        "theme: q\\ncolours:\\n  ink: #000000|3:7 bad-value in quotes",
        "theme: q\\ncolours: { ink: red }|2:17 bad-value six hexadecimal digits",
        "theme: q\\ncolours: { ink: { light: \"#000000\" } }|2:17 missing-key `light` and `dark`",
        "theme: q\\nradius: 33|2:9 bad-value 0 to 32",
        "theme: q\\nradius: round|2:9 wrong-type",
        "theme: q\\nfont: \"x; } body { display: none\"|2:7 bad-value names of fonts",
        "theme: q\\nlogo: javascript:alert(1)|2:7 bad-value a path that begins with /",
        "theme: q\\nlogo: //evil.example/a.png|2:7 bad-value a path",
        "theme: q\\nclasses: { control: \"a\\\"b\" }|2:21 bad-value names of classes",
        "theme: q\\nclasses: { contol: a }|2:12 unknown-key Did you mean `control`?",
        "theme: q\\nstyles: [\"data:text/css,a\"]|2:10 bad-value A stylesheet is",
        "theme: q\\nscheme: dim|2:9 bad-value",
        "theme: q\\nlayout: heap|2:9 bad-value",
        "theme: Q|1:8 bad-value",
      })
  void whatIsWrongIsToldWhereItIs(String text, String told) {
    FormFileException refused =
        catchThrowableOfType(FormFileException.class, () -> theme(text.replace("\\n", "\n")));
    FormFileError error = refused.errors().getFirst();
    String[] parts = told.split(" ", 3);
    assertThat(error.line() + ":" + error.column() + " " + error.code())
        .isEqualTo(parts[0] + " " + parts[1]);
    assertThat(error.detail()).contains(parts.length > 2 ? parts[2] : "");
  }

  /** Ratios that WCAG's own techniques and understanding documents give (G18, 1.4.3). */
  @ParameterizedTest
  @CsvSource({
    "#000000, #ffffff, 21.0",
    "#ffffff, #ffffff, 1.0",
    "#767676, #ffffff, 4.54",
    "#777777, #ffffff, 4.48",
    "#949494, #ffffff, 3.03",
  })
  void contrastIsThatOfWcag(String a, String b, double ratio) {
    assertThat(Contrast.of(a, b)).isCloseTo(ratio, within(0.01));
    assertThat(Contrast.of(b, a)).isCloseTo(ratio, within(0.01));
  }

  @Test
  void wordsThatCannotBeReadAreRefused() throws Exception {
    assertThatThrownBy(() -> theme("theme: q\ncolours:\n  soft: \"#777777\"\n"))
        .hasMessageContaining("`soft` on `sheet` has a contrast of 4.4 to 1 in light; it needs 4.5")
        .hasMessageContaining("3:");
    // What is readable in light only will do where there is nothing else.
    String dark = "theme: q\nscheme: %s\ncolours:\n  accent: \"#0b5560\"\n";
    theme(dark.formatted("light"));
    assertThatThrownBy(() -> theme(dark.formatted("both"))).hasMessageContaining(" in dark");
  }

  @ParameterizedTest
  @EnumSource(Theme.Colour.class)
  void nodleysOwnLookIsInItsStylesheetAndCanBeRead(Theme.Colour colour) throws Exception {
    Theme.Shade usual = colour.usual();
    assertThat(Repository.file("web/page/public/nodley.css"))
        .content()
        .contains(
            "--%s: light-dark(%s, %s);".formatted(colour.word(), usual.light(), usual.dark()));
    theme(
        "theme: q\ncolours: { %s: { light: \"%s\", dark: \"%s\" } }"
            .formatted(colour.word(), usual.light(), usual.dark()));
  }

  /** The example of docs/page.md. */
  @Test
  void theExampleOfTheDocsIsATheme() throws Exception {
    String docs = Files.readString(Repository.file("docs/page.md"));
    int start = docs.indexOf("```yaml\ntheme: quay") + "```yaml\n".length();
    Theme theme = theme(docs.substring(start, docs.indexOf("```", start)));
    assertThat(theme.layout()).isEqualTo(Pages.Layout.SIDE);
    assertThat(theme.colours()).hasSize(3);
    assertThat(theme.classes()).hasSize(Theme.Part.values().length);
  }

  @Test
  void aFormWearsAThemeThatThereIs() throws Exception {
    String form = "form: f\ntheme: quay\nfields: { a: { type: text } }\n";
    Shared shared = Shared.NONE.with(theme("theme: quay")).with(theme("theme: service"));
    Form read = FormFile.read(form, Format.YAML, FormRegistry.alone(shared));
    assertThat(shared.theme(read)).map(Theme::name).contains("quay");
    Form other =
        FormFile.read(form.replace("theme: quay\n", ""), Format.YAML, FormRegistry.alone(shared));
    assertThat(shared.theme(other)).map(Theme::name).contains("service");
    assertThatThrownBy(
            () ->
                FormFile.read(
                    form.replace("quay", "quai"), Format.YAML, FormRegistry.alone(shared)))
        .hasMessageContaining("There is no theme `quai`. Did you mean `quay`?");
    assertThat(Files.readString(Repository.file("demo/themes/watch.theme.yaml"))).isNotEmpty();
    theme(Files.readString(Repository.file("demo/themes/watch.theme.yaml")));
  }
}
