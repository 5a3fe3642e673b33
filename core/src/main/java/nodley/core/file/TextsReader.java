package nodley.core.file;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.file.TextsFile.From;
import nodley.core.file.TextsFile.State;
import nodley.core.file.TextsFile.Text;
import nodley.core.form.After;
import nodley.core.form.Choice;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Options;
import nodley.core.form.Pages;
import nodley.core.form.Rule;
import nodley.core.form.Sentence;
import nodley.core.form.Template;
import nodley.core.text.Message;

/**
 * Applies the texts of one language to a form, and records which are translated, which are missing,
 * and which are for nothing that the form has. Whatever is not translated stays as the form file
 * says it.
 */
final class TextsReader {

  private static final Pattern WORDS = Pattern.compile("\\p{L}");

  private final Form form;
  private final Locale language;
  private final Names names;
  private final TemplateReader templates;
  private final Errors errors;
  private final Optional<ServiceTexts> everywhere;
  private final List<Text> texts = new ArrayList<>();

  TextsReader(Form form, Locale language, FormRegistry registry, Errors errors) {
    this.form = form;
    this.language = language;
    this.names = new FieldNames(form.fields(), registry);
    this.templates = new TemplateReader(form.name(), form.fields(), registry);
    this.everywhere = registry.shared().texts(language);
    this.errors = errors;
  }

  TextsFile read(Section file) {
    // It names its form, and may have its own words in place of Nodley's.
    Stream<String> own = Stream.of("form", "say");
    file.allow("A texts file", Stream.concat(FormKeys.FORM.texts().stream(), own).toList());
    file.word("form", form.name());
    Form.Titles titles = titles(file);
    Optional<Template> called = templates.telling(file, "called").or(form::called);
    form.called()
        .ifPresent(it -> note("called", file.has("called"), called.orElse(it).text(), it.text()));
    Section after = file.section("after").orElse(null);
    if (after != null) {
      after.allow(FormKeys.AFTER);
    }
    After added = after(after, "add", form.afterAdd());
    After saved = after(after, "edit", form.afterEdit());
    Fields fields = fields(file.section("fields").orElse(null), "fields", form.fields());
    List<Rule> rules = rules(file, "", form.rules());
    Form said =
        form.toBuilder()
            .language(language)
            .titles(titles)
            .called(called)
            .afterAdd(added)
            .afterEdit(saved)
            .pages(pages(file))
            .fields(fields)
            .rules(rules)
            .say(say(file))
            .build();
    return new TextsFile(everywhere.map(it -> it.completing(said)).orElse(said), texts);
  }

  /** Notes where the text of a key comes from; where there are no words, none is missing. */
  private void note(String key, boolean given, String text, String fallback) {
    if (given) {
      texts.add(new Text(key, State.USED, From.TEXTS, text));
    } else if (WORDS.matcher(fallback.replaceAll("\\{[^}]*}", "")).find()) {
      texts.add(new Text(key, State.MISSING, From.FORM_FILE, fallback));
    }
  }

  private Form.Titles titles(Section file) {
    Form.Titles usual = form.titles();
    Form.Titles read = new TitlesReader(file, templates, errors).read(usual);
    Node node = file.node("title").orElse(null);
    Optional<Section> each =
        node instanceof Node.Mapping ? file.section("title") : Optional.empty();
    boolean all = node != null && each.isEmpty();
    Map<String, String> given =
        Map.of("add", read.add().text(), "edit", read.edit().text(), "list", read.list());
    Map<String, String> before =
        Map.of("add", usual.add().text(), "edit", usual.edit().text(), "list", usual.list());
    for (String key : FormKeys.TITLE.names()) {
      boolean has = all || each.filter(it -> it.has(key)).isPresent();
      note("title." + key, has, given.get(key), before.get(key));
    }
    return read;
  }

  private Pages pages(Section file) {
    Pages usual = form.pages();
    Section buttons = file.section("buttons").orElse(null);
    if (buttons != null) {
      buttons.allow(FormKeys.BUTTONS);
    }
    String key = usual.stepped() ? "steps" : "sections";
    String what = usual.stepped() ? "step" : "section";
    Section titles = file.section(key).orElse(null);
    if (titles != null) {
      titles.allow("The form", usual.sections().stream().map(Pages.Section::name).toList());
    }
    List<Pages.Section> sections = new ArrayList<>();
    for (Pages.Section section : usual.sections()) {
      Section keys = titles == null ? null : titles.section(section.name()).orElse(null);
      if (keys != null) {
        keys.allow("The texts of a " + what, FormKeys.SECTION.texts());
      }
      String title = text(keys, key + "." + section.name(), "title", section.title());
      sections.add(new Pages.Section(section.name(), title, section.fields()));
    }
    Optional<String> intro = file.text("intro");
    note("intro", intro.isPresent(), intro.orElse(usual.intro()), usual.intro());
    return new Pages(
        intro.orElse(usual.intro()),
        usual.layout(),
        sections,
        usual.stepped(),
        button(buttons, "add", usual.add()),
        button(buttons, "edit", usual.edit()),
        usual.origins(),
        usual.frames(),
        usual.theme(),
        usual.trap());
  }

  /** Where the form file has no word of its own, Nodley's is in the language already. */
  private Optional<String> button(Section buttons, String key, Optional<String> usual) {
    Optional<String> text = buttons == null ? Optional.empty() : buttons.text(key);
    note("buttons." + key, text.isPresent(), text.orElse(""), usual.orElse(""));
    return text.or(() -> usual);
  }

  private After after(Section after, String mode, After usual) {
    Section section = after == null ? null : after.section(mode).orElse(null);
    if (section != null) {
      section.allow("The texts of `after`", FormKeys.AFTER_ADD.texts());
    }
    Optional<Template> say = section == null ? Optional.empty() : templates.telling(section, "say");
    note(
        "after." + mode + ".say",
        say.isPresent(),
        say.orElse(usual.say()).text(),
        usual.say().text());
    return new After(usual.go(), say.orElse(usual.say()), usual.clears());
  }

  private Fields fields(Section section, String key, Fields fields) {
    if (section != null) {
      section.allow("The form", fields.names());
    }
    List<Field> read = new ArrayList<>();
    for (Field field : fields) {
      Section keys = section == null ? null : section.section(field.name()).orElse(null);
      read.add(field(keys, key + "." + field.name(), field));
    }
    return new Fields(read);
  }

  private Field field(Section keys, String key, Field field) {
    if (keys != null) {
      keys.allow("The texts of a field", FieldKeys.texts());
    }
    Field.Wording usual = field.wording();
    Field.Wording wording =
        new Field.Wording(
            text(keys, key, "label", usual.label()),
            text(keys, key, "help", usual.help()),
            text(keys, key, "placeholder", usual.placeholder()),
            text(keys, key, "unit", usual.unit()),
            text(keys, key, "add", usual.add()));
    Section inside = keys == null ? null : keys.section("fields").orElse(null);
    return field.toBuilder()
        .wording(wording)
        .options(options(keys, key, field.options()))
        .rules(rules(keys, key + ".", field.rules()))
        .say(say(keys, key, field.say()))
        .fields(fields(inside, key + ".fields", field.fields()))
        .build();
  }

  private String text(Section keys, String outer, String key, String usual) {
    Optional<String> text = keys == null ? Optional.empty() : keys.text(key);
    note(outer + "." + key, text.isPresent(), text.orElse(usual), usual);
    return text.orElse(usual);
  }

  private Options options(Section keys, String key, Options options) {
    Section labels = keys == null ? null : keys.section("options").orElse(null);
    if (labels != null) {
      labels.allow("The field", options.choices().stream().map(Choice::value).toList());
    }
    List<Choice> choices = new ArrayList<>();
    for (Choice choice : options.choices()) {
      String label = text(labels, key + ".options", choice.value(), choice.label());
      choices.add(new Choice(choice.value(), label, choice.offered(), choice.marks()));
    }
    return new Options(choices, options.list(), options.where());
  }

  private Map<String, Sentence> say(Section keys, String key, Map<String, Sentence> usual) {
    Map<String, Sentence> given =
        keys == null ? Map.of() : new SayReader(keys, errors, names).all();
    Map<String, Sentence> say = new TreeMap<>(usual);
    say.putAll(given);
    say.forEach(
        (code, sentence) ->
            note(
                key + ".say." + code,
                given.containsKey(code),
                sentence.text().source(),
                sentence.text().source()));
    return say;
  }

  /** The sentences of rules, by the place of each rule in the form; {@code {}} leaves one out. */
  private List<Rule> rules(Section keys, String outer, List<Rule> rules) {
    List<Node> items = keys == null ? List.of() : keys.items("rules").orElse(List.of());
    List<Rule> read = new ArrayList<>();
    for (int i = 0; i < Math.max(rules.size(), items.size()); i++) {
      String key = outer + "rules." + i;
      Optional<Sentence> given =
          i < items.size() ? rule(keys, items.get(i), i, rules) : Optional.empty();
      if (i < rules.size()) {
        Rule rule = rules.get(i);
        String usual = rule.say().map(it -> it.text().source()).orElse("");
        note(
            key + ".say",
            given.isPresent(),
            given.map(it -> it.text().source()).orElse(usual),
            usual);
        read.add(rule.saying(given.or(rule::say)));
      }
    }
    return read;
  }

  private Optional<Sentence> rule(Section keys, Node item, int index, List<Rule> rules) {
    String pointer = keys.pointer("rules") + "/" + index;
    int count = rules.size();
    if (index >= count) {
      errors.add(
          item.place(),
          pointer,
          "unknown-name",
          "There " + (count == 1 ? "is one rule" : "are " + count + " rules") + " here, not more.");
      return Optional.empty();
    }
    Section rule = Section.of(item, pointer, "The text of a rule", errors).orElse(null);
    if (rule == null) {
      return Optional.empty();
    }
    rule.allow("The text of a rule", FormKeys.RULE.texts());
    Map<String, ExpressionType> parameters = new LinkedHashMap<>();
    rules.get(index).with().forEach((name, given) -> parameters.put(name, given.kind()));
    return new SayReader(rule, errors, new ExpressionTypeNames(parameters, Optional.of(names)))
        .sentence("say");
  }

  /** What stands in place of Nodley's own sentences, in this form. */
  private Map<String, Message> say(Section file) {
    Map<String, Message> own = new SayReader(file, errors, names).inPlaceOf(language);
    Map<String, Message> shared = everywhere.map(ServiceTexts::say).orElse(Map.of());
    texts.addAll(TextsFile.said(language, own, shared));
    return own;
  }
}
