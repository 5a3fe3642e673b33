package nodley.core.submission;

import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.form.Ask;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Limits;
import nodley.core.form.Rule;
import nodley.core.form.Sentence;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.form.Unique;
import nodley.core.name.Percent;
import nodley.core.name.Pointer;
import nodley.core.text.Languages;
import nodley.core.text.Message;
import nodley.core.value.FileRef;
import nodley.core.value.Value;

/**
 * The sentences that errors and early checks are told in, in one language: the field's own, else
 * Nodley's.
 */
public final class Sentences {

  /** What a field may say in its own words: the codes, and the states of the early check. */
  public static final List<String> KEYS =
      Stream.concat(
              // Of a field that is not there, no field can speak.
              Codes.ALL.stream().filter(code -> !code.equals("unknown-field")),
              Stream.of("asking", "free", "unanswered", "filled"))
          .toList();

  /** What a sentence may name in braces, besides the form's own fields. */
  public static final List<String> ARGUMENTS =
      List.of("label", "value", "min", "max", "step", "base", "count");

  private static final Map<Locale, Sentences> SHIPPED = shipped();

  public static final Sentences ENGLISH = SHIPPED.get(Locale.ENGLISH);

  private final Locale language;
  private final Map<String, Message> messages;

  /** What a form's texts put in place of those. */
  private final Map<String, Message> own;

  private Sentences(Locale language, Map<String, Message> messages, Map<String, Message> own) {
    this.language = language;
    this.messages = messages;
    this.own = own;
  }

  private static Sentences load(Locale language) {
    Map<String, Message> messages = new HashMap<>();
    String ending = language.equals(Locale.ENGLISH) ? "" : "_" + language.getLanguage();
    String resource = "/nodley/core/text/sentences" + ending + ".properties";
    Properties texts = new Properties();
    try (Reader in =
        new InputStreamReader(
            Sentences.class.getResourceAsStream(resource), StandardCharsets.UTF_8)) {
      texts.load(in);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    texts.forEach((key, text) -> messages.put((String) key, Message.own((String) text)));
    return new Sentences(language, messages, Map.of());
  }

  private static Map<Locale, Sentences> shipped() {
    Map<Locale, Sentences> shipped = new LinkedHashMap<>();
    Languages.SHIPPED.forEach(language -> shipped.put(language, load(language)));
    return shipped;
  }

  /** The sentences that a form's errors are told in. */
  public static Sentences of(Form form) {
    Sentences shipped = in(form.language());
    return form.say().isEmpty() && shipped.language.equals(form.language())
        ? shipped
        : new Sentences(form.language(), shipped.messages, form.say());
  }

  /** The sentences of a language with others in place of some that ship. */
  public static Sentences with(Locale language, Map<String, Message> own) {
    return new Sentences(language, in(language).messages, own);
  }

  /** The sentences that ship in a language; English where it does not. */
  public static Sentences in(Locale language) {
    Sentences shipped = SHIPPED.get(language);
    return shipped != null
        ? shipped
        : SHIPPED.getOrDefault(Locale.of(language.getLanguage()), ENGLISH);
  }

  /** All sentences and words, by their keys. */
  public Map<String, Message> all() {
    Map<String, Message> all = new TreeMap<>(messages);
    all.putAll(own);
    return all;
  }

  /**
   * A word of the pages, such as {@code page.save}.
   *
   * @param arguments what its names stand for
   */
  public String word(String key, Map<String, Value> arguments) {
    return message(key).fill(new Given(arguments), language);
  }

  private record Given(Map<String, Value> values) implements Message.Arguments {

    @Override
    public String text(String name) {
      return value(name).shown();
    }

    @Override
    public Value value(String name) {
      return values.getOrDefault(name, Value.BLANK);
    }
  }

  private Message message(String key) {
    Message message = own.get(key);
    return message != null ? message : messages.get(key);
  }

  /** True if Nodley's own sentences are there in a language, or in the one it is a kind of. */
  public static boolean ships(Locale language) {
    return SHIPPED.containsKey(Locale.of(language.getLanguage()));
  }

  /** Returns the language of the sentences. */
  public Locale language() {
    return language;
  }

  /** The error of a field. */
  FieldError error(
      FieldState state, String code, Value value, FieldStates root, LocalDate today, Instant now) {
    Field field = state.field;
    Span<Value> range = range(field, today, now);
    Map<String, Value> limits = LimitArguments.of(field, code, value, range);
    return told(
        state.pointer(), code, sentence(field, key(code, value)), field, value, limits, root);
  }

  /** The error of a value that somebody else has, alone or together with others. */
  FieldError taken(FieldState state, Unique unique, List<String> free, FieldStates root) {
    FieldError error = taken(state, unique, root);
    if (free.isEmpty()) {
      return error;
    }
    Map<String, Object> params = new LinkedHashMap<>(error.params());
    params.put("alternatives", free);
    Map<String, Value> arguments = Map.of("alternatives", new Value.Text(String.join(", ", free)));
    String detail = error.detail() + " " + word("taken.alternatives", arguments);
    return new FieldError(error.pointer(), error.code(), detail, params, error.link());
  }

  private FieldError taken(FieldState state, Unique unique, FieldStates root) {
    Field field = state.field;
    boolean own = field.say().containsKey("taken") || !unique.isTogether();
    if (own) {
      return told(
          state.pointer(), "taken", sentence(field, "taken"), field, state.value, Map.of(), root);
    }
    String labels =
        unique.paths().stream()
            .filter(path -> unique.ofForm() || !path.equals(unique.at()))
            .map(path -> beside(state, unique, path))
            .filter(Field::isOnPages)
            .map(Field::label)
            .collect(Collectors.joining(", "));
    Map<String, Value> arguments = Map.of("labels", new Value.Text(labels));
    if (!unique.ofForm()) {
      return told(
          state.pointer(),
          "taken",
          Sentence.of(message("taken.within")),
          field,
          state.value,
          arguments,
          root);
    }
    Map<String, Object> params = Map.of("value", state.value.toJson());
    return new FieldError(
        state.pointer(), "taken", word("taken.together", arguments), params, Optional.empty());
  }

  /** What is said of one file of a field, by a code of {@link FileRules}. */
  String file(Field field, String code, FileRef file) {
    Map<String, Value> arguments = new LinkedHashMap<>();
    LimitArguments.ofFile(field.limits(), code, file, arguments);
    arguments.put("label", new Value.Text(field.label()));
    arguments.put("value", new Value.Text(file.name()));
    return sentence(field, code).text().fill(new Given(arguments), language);
  }

  /** A field of a unique, found from the one that its error stands at. */
  private static Field beside(FieldState at, Unique unique, List<String> path) {
    FieldStates siblings = at.siblings.up(unique.at().size() - 1);
    return siblings.at(path).field;
  }

  private static Span<Value> range(Field field, LocalDate today, Instant now) {
    Span<End> range = field.limits().range();
    return new Span<>(
        range.min().map(end -> end.at(today, now)), range.max().map(end -> end.at(today, now)));
  }

  /** The error of a rule, at its field or, where it has none, at the whole form. */
  FieldError rule(Rule rule, FieldState at, Map<String, Value> given, FieldStates root) {
    Sentence sentence =
        rule.say().orElseGet(() -> at == null ? overall() : sentence(at.field, "rule"));
    if (at == null || at.hidden) {
      return told(Pointer.ROOT, "rule", sentence, null, Value.BLANK, given, root);
    }
    return told(at.pointer(), "rule", sentence, at.field, at.value, given, root);
  }

  /**
   * The error that a service outside found. The form's own words for it go before those of the
   * service.
   *
   * @param at the field that has the error; null for the form as a whole
   */
  FieldError askRefused(Ask ask, FieldState at, AskReply.Objection objection, FieldStates root) {
    FieldError error = asked(ask, at, "ask-refused", root);
    Map<String, Object> params = new LinkedHashMap<>(error.params());
    objection.code().ifPresent(code -> params.put("code", code));
    boolean own = at != null && at.field.say().containsKey("ask-refused");
    String detail = own ? error.detail() : objection.detail().orElse(error.detail());
    return new FieldError(error.pointer(), error.code(), detail, params, error.link());
  }

  /** The error that a service outside did not answer. */
  FieldError askUnanswered(Ask ask, FieldState at, FieldStates root) {
    return asked(ask, at, "ask-unanswered", root);
  }

  private FieldError asked(Ask ask, FieldState at, String code, FieldStates root) {
    FieldError error =
        at == null
            ? told(
                Pointer.ROOT,
                code,
                Sentence.of(message(code + ".form")),
                null,
                Value.BLANK,
                Map.of(),
                root)
            : told(
                at.pointer(),
                code,
                sentence(at.field, code),
                at.field,
                at.outline(),
                Map.of(),
                root);
    Map<String, Object> params = new LinkedHashMap<>(error.params());
    params.put("of", ask.of());
    return new FieldError(error.pointer(), code, error.detail(), params, error.link());
  }

  /** What is said of a value that was proposed when a field was asked about. */
  String filledIn(FieldState about, FieldStates root) {
    return told(
            about.pointer(),
            "filled",
            sentence(about.field, "filled"),
            about.field,
            about.value,
            Map.of(),
            root)
        .detail();
  }

  /** What is said of a rule without words of its own, where it speaks of no one field. */
  public Sentence overall() {
    return Sentence.of(message("rule.form"));
  }

  private FieldError told(
      String pointer,
      String code,
      Sentence sentence,
      Field field,
      Value value,
      Map<String, Value> limits,
      FieldStates root) {
    boolean secret = field != null && field.isSecret();
    Filling filling = new Filling(field, secret ? Value.BLANK : value, limits, root);
    Map<String, Object> params = new LinkedHashMap<>();
    if (!value.isBlank() && !secret) {
      params.put("value", value.toJson());
    }
    limits.forEach((name, limit) -> params.put(name, limit.toJson()));
    return new FieldError(
        pointer,
        code,
        sentence.text().fill(filling, language),
        params,
        sentence
            .link()
            .map(
                link ->
                    new FieldError.Link(
                        link.text().fill(filling, language),
                        link.href().fill(name -> Percent.encode(filling.text(name))))));
  }

  /** What the arguments of a sentence stand for. */
  private record Filling(Field field, Value value, Map<String, Value> limits, FieldStates root)
      implements Message.Arguments {

    @Override
    public String text(String name) {
      return switch (name) {
        case "label" -> field == null ? "" : field.label();
        case "value" -> value.shown();
        default ->
            limits.containsKey(name) || ARGUMENTS.contains(name)
                ? limits.getOrDefault(name, Value.BLANK).shown()
                : root.find(name)
                    .filter(state -> !state.field.isSecret())
                    .map(state -> state.field.display(state.value))
                    .orElse("");
      };
    }

    @Override
    public Value value(String name) {
      return switch (name) {
        case "label" -> new Value.Text(text(name));
        case "value" -> value;
        default ->
            limits.containsKey(name) || ARGUMENTS.contains(name)
                ? limits.getOrDefault(name, Value.BLANK)
                : root.find(name).map(state -> state.value).orElse(Value.BLANK);
      };
    }
  }

  String unknownField(String name, Optional<String> near) {
    Map<String, Value> arguments = new LinkedHashMap<>();
    arguments.put("name", new Value.Text(name));
    near.ifPresent(it -> arguments.put("near", new Value.Text(it)));
    return word(near.isPresent() ? "unknown-field.near" : "unknown-field", arguments);
  }

  /** Where the value itself decides which words fit. */
  private static String key(String code, Value value) {
    return LimitArguments.isOfDecimals(code, value) ? "too-precise.decimals" : code;
  }

  /** The sentence for a key before it is filled in; the page gets these in the description. */
  public Sentence sentence(Field field, String key) {
    int dot = key.indexOf('.');
    String code = dot < 0 ? key : key.substring(0, dot);
    Sentence own = field.say().get(code);
    if (own != null) {
      return own;
    }
    Optional<String> example = example(field, code);
    if (example.isPresent()) {
      String source = messages.get(code + ".example").source();
      return Sentence.of(Message.own(source.replace("{example}", Message.quoted(example.get()))));
    }
    boolean shifted = code.equals("step-mismatch") && field.limits().stepBase().signum() != 0;
    boolean choose = field.type() == Type.CHOICES && code.equals("value-missing");
    String special = key + (shifted ? ".base" : choose ? ".choices" : ".usual");
    String typed = key + "." + field.type().word();
    // A form's own word for a code goes before what ships for the code and a type.
    Message message = firstOf(this.own, special, typed, key, code);
    if (message == null) {
      message = firstOf(messages, special, typed, key, code);
    }
    if (message == null) {
      throw new IllegalStateException("no sentence for " + key);
    }
    return Sentence.of(message);
  }

  private static Message firstOf(Map<String, Message> from, String... keys) {
    for (String key : keys) {
      Message message = from.get(key);
      if (message != null) {
        return message;
      }
    }
    return null;
  }

  /**
   * A text of the right pattern, where the form file says nothing of its own: the placeholder, or
   * one that is made from the pattern.
   */
  private Optional<String> example(Field field, String code) {
    boolean unsaid =
        code.equals("pattern-mismatch")
            && !own.containsKey(code)
            && !own.containsKey(code + "." + field.type().word());
    Limits limits = field.limits();
    Stream<String> made = field.type() == Type.TEXT ? examples(limits) : Stream.empty();
    return limits
        .pattern()
        .filter(_ -> unsaid)
        .flatMap(
            pattern ->
                Stream.concat(Stream.of(field.wording().placeholder()), made)
                    .filter(it -> !it.isEmpty() && pattern.matches(it))
                    .findFirst());
  }

  private static Stream<String> examples(Limits limits) {
    return limits.pattern().stream()
        .flatMap(pattern -> pattern.examples().stream())
        .filter(
            it -> {
              int length = it.codePointCount(0, it.length());
              return limits.length().min().orElse(0) <= length
                  && length <= limits.length().max().orElse(Integer.MAX_VALUE);
            });
  }
}
