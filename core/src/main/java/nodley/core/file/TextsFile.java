package nodley.core.file;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.form.Form;
import nodley.core.submission.Sentences;
import nodley.core.text.Message;

/**
 * A form's texts in one language: {@code NAME.LANG.yaml}, in the shape of the form itself.
 *
 * <pre>
 * title: { add: Schiff anmelden }
 * fields:
 *   name: { label: Name, say: { taken: "{value} gibt es schon." } }
 *   rig: { options: { sail: Segel } }
 * say: { value-missing: "{label} fehlt." }
 * </pre>
 *
 * @param form the form in this language
 * @param texts what the form can say, where each text comes from, and what the file has besides
 */
public record TextsFile(Form form, List<Text> texts) {

  /** A language tag (BCP 47): a language of two or three letters, then what tells it apart. */
  private static final Pattern TAG =
      Pattern.compile("[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8}){0,4}", Pattern.CASE_INSENSITIVE);

  private static final Pattern NAME =
      Pattern.compile("([a-z][a-z0-9-]{0,39})\\.([a-z]{2,3}(?:-[A-Za-z0-9]{2,8}){0,4})");

  /** Whether the file has a text for a key. */
  public enum State {
    USED,
    MISSING,
    UNUSED
  }

  /** Which text a person gets to read. */
  public enum From {
    TEXTS,
    /** The texts for all forms: {@link ServiceTexts}. */
    SERVICE_TEXTS,
    FORM_FILE,
    NODLEY,
    /** None: nothing in the form takes it. */
    NOWHERE
  }

  /**
   * One text.
   *
   * @param key where it stands in the file, such as {@code fields.rig.label}
   * @param text as it is written; of an unused one, why it is
   */
  public record Text(String key, State state, From from, String text) {}

  /** What a file's name says: the form, and the language. */
  public record Name(String form, Locale language) {

    /** True if they are the texts for all forms. */
    public boolean isOfService() {
      return form.equals(ServiceTexts.NAME);
    }
  }

  public TextsFile {
    texts = List.copyOf(texts);
  }

  /** The language of a tag, such as {@code de} or {@code pt-BR}; nothing if it is no tag. */
  public static Optional<Locale> language(String tag) {
    Matcher matcher = TAG.matcher(tag);
    return matcher.matches() ? Optional.of(Locale.forLanguageTag(tag)) : Optional.empty();
  }

  /** Reads a file's name without its ending, such as {@code visit.de}. */
  public static Optional<Name> name(String name) {
    Matcher matcher = NAME.matcher(name);
    return matcher.matches()
        ? language(matcher.group(2)).map(it -> new Name(matcher.group(1), it))
        : Optional.empty();
  }

  /**
   * Reads texts that are to be published.
   *
   * @throws FormFileException with all that is wrong, what the form does not have too
   */
  public static TextsFile read(
      String text, Format format, Form form, Locale language, FormRegistry registry)
      throws FormFileException {
    var errors = new Errors();
    TextsFile texts = parse(text, format, form, language, registry, errors);
    if (!errors.isEmpty()) {
      throw errors.thrown();
    }
    return texts;
  }

  /**
   * Reads texts that were published, against a form that may have changed since: what no longer
   * fits is unused.
   */
  public static TextsFile reread(
      String text, Format format, Form form, Locale language, FormRegistry registry) {
    var errors = new Errors();
    try {
      TextsFile read = parse(text, format, form, language, registry, errors);
      List<Text> texts = new ArrayList<>(read.texts());
      for (FormFileError error : errors.isEmpty() ? List.<FormFileError>of() : sorted(errors)) {
        String key = error.pointer().replaceFirst("^#/?", "").replace('/', '.');
        texts.add(new Text(key, State.UNUSED, From.NOWHERE, error.detail()));
      }
      return new TextsFile(read.form(), texts);
    } catch (FormFileException e) {
      return none(form, language, registry);
    }
  }

  private static List<FormFileError> sorted(Errors errors) {
    return errors.thrown().errors().stream()
        .sorted(Comparator.comparingInt(FormFileError::line))
        .toList();
  }

  /** A language without texts of the form's own. */
  public static TextsFile none(Form form, Locale language, FormRegistry registry) {
    var errors = new Errors();
    Node nothing = new Node.Mapping(new Place(1, 1), List.of());
    return new TextsReader(form, language, registry, errors)
        .read(Section.of(nothing, "#", "A texts file", errors).orElseThrow());
  }

  /**
   * Each of Nodley's own sentences and words in a language, and which text a person gets for it.
   *
   * @param own what goes before all others
   * @param shared what goes before those that ship
   */
  static List<Text> said(Locale language, Map<String, Message> own, Map<String, Message> shared) {
    List<Text> texts = new ArrayList<>();
    boolean ships = Sentences.ships(language);
    Sentences.in(language)
        .all()
        .forEach(
            (key, shipped) -> {
              From from =
                  own.containsKey(key)
                      ? From.TEXTS
                      : shared.containsKey(key) ? From.SERVICE_TEXTS : From.NODLEY;
              texts.add(
                  new Text(
                      "say." + key,
                      ships || from != From.NODLEY ? State.USED : State.MISSING,
                      from,
                      own.getOrDefault(key, shared.getOrDefault(key, shipped)).source()));
            });
    return texts;
  }

  private static TextsFile parse(
      String text, Format format, Form form, Locale language, FormRegistry registry, Errors errors)
      throws FormFileException {
    return new TextsReader(form, language, registry, errors).read(section(text, format, errors));
  }

  /** The whole of a texts file. */
  static Section section(String text, Format format, Errors errors) throws FormFileException {
    try {
      Node tree = format == Format.JSON ? JsonTree.read(text) : YamlTree.read(text, errors);
      return Section.of(tree, "#", "A texts file", errors).orElseThrow(errors::thrown);
    } catch (Unparsable e) {
      errors.add(e.place(), "#", "unreadable", e.getMessage());
      throw errors.thrown();
    }
  }
}
