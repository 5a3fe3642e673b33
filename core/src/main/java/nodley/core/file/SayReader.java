package nodley.core.file;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Sentence;
import nodley.core.form.Template;
import nodley.core.name.Near;
import nodley.core.submission.Sentences;
import nodley.core.text.BadMessage;
import nodley.core.text.Message;
import nodley.core.value.Wellformed;

/**
 * Reads the messages that a form puts in place of Nodley's own: ICU MessageFormat, by the code of
 * the error or by the state of an early check. Arguments that the message names must exist, so that
 * a misspelt one is told when the file is read and not to a person who fills in the form.
 */
record SayReader(Section keys, Errors errors, Names fields) {

  /** The sentences under {@code say}, by code. */
  Map<String, Sentence> all() {
    Map<String, Sentence> say = new LinkedHashMap<>();
    Section section = keys.section("say").orElse(null);
    if (section == null) {
      return say;
    }
    section.allow("`say`", Sentences.KEYS);
    for (Node.Entry entry : section.entries()) {
      new SayReader(section, errors, fields)
          .sentence(entry.key())
          .ifPresent(sentence -> say.put(entry.key(), sentence));
    }
    return say;
  }

  /** One sentence: a text, or {@code {text, link: {text, href}}}. */
  Optional<Sentence> sentence(String key) {
    Node node = keys.node(key).orElse(null);
    if (!(node instanceof Node.Mapping)) {
      return message(keys, key).map(Sentence::of);
    }
    Section whole = keys.section(key).orElseThrow();
    whole.allow(FormKeys.SENTENCE);
    if (!whole.has("text")) {
      whole.missing("A sentence has a `text`.");
      return Optional.empty();
    }
    Optional<Message> text = message(whole, "text");
    Optional<Sentence.Link> link = whole.section("link").flatMap(this::link);
    return text.map(it -> new Sentence(it, link));
  }

  private Optional<Sentence.Link> link(Section link) {
    link.allow(FormKeys.LINK);
    if (!link.has("text") || !link.has("href")) {
      link.missing("A link has a `text` and a `href`.");
      return Optional.empty();
    }
    Optional<Message> text = message(link, "text");
    Optional<Template> href = link.text("href").map(Template::new);
    if (href.isPresent() && !href.get().text().matches("(/([^/\\\\].*)?|https?://\\S+)")) {
      link.bad("href", "bad-value", "`href` is a path that begins with /, or an http(s) address.");
      return Optional.empty();
    }
    boolean known =
        href.isPresent()
            && href.get().names().stream().allMatch(name -> isKnown(link, "href", name));
    return text.isPresent() && known
        ? Optional.of(new Sentence.Link(text.get(), href.get()))
        : Optional.empty();
  }

  /** The sentences and words under {@code say} in place of Nodley's own in a language. */
  Map<String, Message> inPlaceOf(Locale language) {
    Map<String, Message> shipped = Sentences.in(language).all();
    Map<String, Message> own = new LinkedHashMap<>();
    Section section = keys.section("say").orElse(null);
    if (section != null) {
      section.allow("`say`", shipped.keySet());
      // What the one that ships can name, the one in its place can name too.
      shipped.forEach(
          (key, message) ->
              message(section, key, message.names()).ifPresent(it -> own.put(key, it)));
    }
    return own;
  }

  private Optional<Message> message(Section section, String key) {
    return message(section, key, List.of());
  }

  private Optional<Message> message(Section section, String key, Collection<String> arguments) {
    Optional<String> text = section.text(key);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    try {
      Message message = Message.of(text.get());
      boolean known =
          message.names().stream()
              .allMatch(name -> arguments.contains(name) || isKnown(section, key, name));
      return known ? Optional.of(message) : Optional.empty();
    } catch (BadMessage e) {
      section.bad(key, "bad-text", "The sentence cannot be read: " + e.getMessage() + ".");
      return Optional.empty();
    }
  }

  private boolean isKnown(Section section, String key, String name) {
    Optional<Names.Found> field =
        scopes().map(it -> it.find(name)).flatMap(Optional::stream).findFirst();
    if (Sentences.ARGUMENTS.contains(name) || field.filter(SayReader::isTold).isPresent()) {
      return true;
    }
    List<String> known = new ArrayList<>(Sentences.ARGUMENTS);
    scopes()
        .flatMap(
            scope ->
                scope.all().stream()
                    .filter(it -> scope.find(it).filter(SayReader::isTold).isPresent()))
        .forEach(known::add);
    section.bad(
        key,
        "bad-text",
        field.isPresent()
            ? "A sentence cannot tell `" + name + "`: it is a secret, a reference, or a set."
            : "A sentence has no {"
                + Wellformed.of(name)
                + "}; it has {"
                + String.join("}, {", known)
                + "}.",
        Near.to(name, known));
    return false;
  }

  private Stream<Names> scopes() {
    return Stream.iterate(
            Optional.of(fields), Optional::isPresent, scope -> scope.flatMap(Names::outer))
        .flatMap(Optional::stream);
  }

  private static boolean isTold(Names.Found found) {
    boolean set =
        found.kind().base() == ExpressionType.Base.GROUP
            || found.kind().base() == ExpressionType.Base.ROWS;
    return !set && !found.secret() && found.refersTo().isEmpty();
  }
}
