package nodley.core.file;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Access;
import nodley.core.form.Access.Who;
import nodley.core.form.FieldAccess;
import nodley.core.form.Form;
import nodley.core.name.Synonyms;
import nodley.core.value.Wellformed;

/** Reads {@code access}: who may add, see, edit and remove. */
final class AccessReader {

  private static final int MAX_WORDS = 20;

  private final Section section;
  private final Form.Records records;
  private final boolean field;

  private AccessReader(Section section, Form.Records records, boolean field) {
    this.section = section;
    this.records = records;
    this.field = field;
  }

  /**
   * The access that a form file gives; {@code signed-in} for what it does not say, or the owner for
   * records of which each person has one.
   */
  static Access read(Section file, Form.Records records) {
    Who usual =
        switch (records) {
          case ONE_EACH -> Who.OWNERS;
          case NONE -> Who.NOBODY;
          default -> Who.SIGNED_IN;
        };
    Section section = file.section("access").orElse(null);
    if (section == null) {
      return new Access(Who.SIGNED_IN, usual, usual, usual);
    }
    section.allow(FormKeys.ACCESS);
    AccessReader reader = new AccessReader(section, records, false);
    Who edit = reader.who("edit", usual);
    return new Access(
        reader.who("add", Who.SIGNED_IN),
        reader.who("see", usual),
        edit,
        reader.who("remove", edit));
  }

  /** Who may see and edit a field; everybody, where it does not say. */
  static FieldAccess ofField(Section field) {
    AccessReader reader = new AccessReader(field, Form.Records.MANY, true);
    return new FieldAccess(reader.ofField("see"), reader.ofField("edit"), false);
  }

  private Optional<Who> ofField(String key) {
    return section.has(key)
        ? Optional.of(who(key, Who.ANYONE)).filter(it -> !it.isAnyone())
        : Optional.empty();
  }

  /** One word, or a list of them. */
  private Who who(String key, Who otherwise) {
    Node node = section.node(key).orElse(null);
    if (!(node instanceof Node.Sequence sequence)) {
      return section
          .text(key)
          .filter(it -> isKnown(key, node, it))
          .map(List::of)
          .map(Who::new)
          .orElse(otherwise);
    }
    List<String> words = new ArrayList<>();
    for (Node item : sequence.items()) {
      Optional<String> word = Section.textOf(item);
      if (word.isEmpty()) {
        section.wrongType(key, item, "a word");
        return otherwise;
      }
      if (!isKnown(key, item, word.get())) {
        return otherwise;
      }
      if (words.contains(word.get())) {
        String detail = "`" + key + "` has \"" + word.get() + "\" twice.";
        section.bad(key, item, "duplicate", detail, Optional.empty());
        return otherwise;
      }
      words.add(word.get());
    }
    if (words.isEmpty() || words.size() > MAX_WORDS) {
      section.bad(
          key,
          "bad-value",
          words.isEmpty()
              ? "`" + key + "` is for nobody: an empty list. For admins alone, write `admin`."
              : "`" + key + "` has up to " + MAX_WORDS + " words, not " + words.size() + ".");
      return otherwise;
    }
    return new Who(words);
  }

  /** Roles have free names, so what is nearly a reserved word is taken for a misspelt one. */
  private boolean isKnown(String key, Node node, String word) {
    if (Who.RESERVED.contains(word)) {
      return isOwnable(key, node, word) && isPersons(key, node, word);
    }
    Optional<String> near = Synonyms.by(word, Who.RESERVED);
    if (near.isEmpty() && Access.ROLE.matcher(word).matches()) {
      return true;
    }
    section.bad(
        key,
        node,
        "bad-value",
        "`"
            + key
            + "` is anyone, signed-in, owner, a role such as clerk (small letters, digits and"
            + " hyphens), or a list of these, not \""
            + Wellformed.of(word)
            + "\"."
            + near.map(it -> " Did you mean `" + it + "`?").orElse(""),
        near);
    return false;
  }

  /** Nobody known has no record of their own. */
  private boolean isPersons(String key, Node node, String word) {
    boolean wrong =
        records == Form.Records.ONE_EACH && key.equals("add") && word.equals(Who.ANYBODY);
    if (wrong) {
      section.bad(
          key,
          node,
          "bad-value",
          "`add` cannot be anyone with `records: one-each`: who is not signed in has no record of"
              + " their own. Write `signed-in`.",
          Optional.of(Who.KNOWN));
    }
    return !wrong;
  }

  /** The only record of a form has no owner. */
  private boolean isOwnable(String key, Node node, String word) {
    boolean wrong = word.equals(Who.OWNER) && (records == Form.Records.ONE || field);
    if (wrong) {
      section.bad(
          key,
          node,
          "bad-value",
          "`"
              + key
              + (field
                  ? "` of a field cannot be owner: owners are named in the form's `access`. Name a"
                      + " role."
                  : "` cannot be owner in a form with `records: one`: its record is everybody's."
                      + " Name a role."),
          Optional.empty());
    }
    return !wrong;
  }
}
