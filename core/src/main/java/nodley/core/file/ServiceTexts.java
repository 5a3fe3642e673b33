package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import nodley.core.expression.Names;
import nodley.core.file.TextsFile.From;
import nodley.core.file.TextsFile.State;
import nodley.core.file.TextsFile.Text;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.submission.Sentences;
import nodley.core.text.Message;

/**
 * What all forms say in one language, unless they say it in their own words: {@code
 * service.LANG.yaml}. A form's own texts, and the placeholders of its file, go before these; these
 * go before what ships. Immutable.
 *
 * <pre>
 * say: { value-missing: "{label} fehlt noch.", page.save: Sichern }
 * placeholders: { email: name@beispiel.example }
 * </pre>
 *
 * @param say sentences and words in place of Nodley's own, by key
 * @param placeholders what an empty control shows, by the type of its field
 */
public record ServiceTexts(
    Locale language, Map<String, Message> say, Map<Type, String> placeholders) {

  /** The name that stands for all forms; no form has it. */
  public static final String NAME = "service";

  private static final List<Type> WITH_PLACEHOLDER =
      List.of(Type.values()).stream().filter(it -> FieldKeys.has("placeholder", it)).toList();

  public ServiceTexts {
    say = Map.copyOf(say);
    placeholders = Map.copyOf(placeholders);
  }

  /**
   * Reads texts for all forms.
   *
   * @throws FormFileException with all that is wrong
   */
  public static ServiceTexts read(String text, Format format, Locale language)
      throws FormFileException {
    var errors = new Errors();
    Section file = TextsFile.section(text, format, errors);
    file.allow("Texts for all forms", List.of("say", "placeholders"));
    Map<String, Message> say = new SayReader(file, errors, Names.NONE).inPlaceOf(language);
    Map<Type, String> placeholders = new LinkedHashMap<>();
    file.section("placeholders")
        .ifPresent(
            section -> {
              section.allow("`placeholders`", WITH_PLACEHOLDER.stream().map(Type::word).toList());
              for (Type type : WITH_PLACEHOLDER) {
                section.text(type.word()).ifPresent(it -> placeholders.put(type, it));
              }
            });
    if (!errors.isEmpty()) {
      throw errors.thrown();
    }
    return new ServiceTexts(language, say, placeholders);
  }

  /** The form with these texts wherever it has none of its own. */
  Form completing(Form form) {
    Map<String, Message> both = new LinkedHashMap<>(say);
    both.putAll(form.say());
    return form.saying(both, placeholders.isEmpty() ? form.fields() : completing(form.fields()));
  }

  private Fields completing(Fields fields) {
    return new Fields(fields.stream().map(this::completing).toList());
  }

  private Field completing(Field field) {
    Field.Wording own = field.wording();
    String placeholder = placeholders.getOrDefault(field.type(), "");
    return own.placeholder().isEmpty() && !placeholder.isEmpty()
        ? field.with(new Field.Wording(own.label(), own.help(), placeholder, own.unit(), own.add()))
        : field.type().isScalar() ? field : field.with(completing(field.fields()));
  }

  /** The sentences and words of pages that belong to no form. */
  Sentences sentences() {
    return Sentences.with(language, say);
  }

  /** Each text that there can be, and where it comes from. */
  public List<Text> texts() {
    List<Text> texts = TextsFile.said(language, say, Map.of());
    placeholders.forEach(
        (type, text) ->
            texts.add(new Text("placeholders." + type.word(), State.USED, From.TEXTS, text)));
    return texts;
  }
}
