package nodley.core.form;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.expression.Expression;
import nodley.core.text.Notation;
import nodley.core.value.Value;

/**
 * A field: one value, or nested fields, once as a group or repeated as rows. Immutable; made by
 * {@link #builder}.
 *
 * @param unique as it is written here; its paths begin at the rows or the form around
 * @param exists a column of somebody else's table, in which the value must be
 * @param ask as it is written here; its paths begin at the fields beside it
 * @param confirm as it is written here; its path begins at the fields beside it
 * @param refersTo the form whose records a field of type record points at
 * @param repeats the name of the neighbour whose value is typed here once more
 * @param rules conditions whose errors stand at this field, unless they say otherwise
 * @param say the developer's own sentences, by code or by the state of the early check
 * @param fields what is inside a group or each row
 * @param access who may see and edit it
 */
public record Field(
    String name,
    Type type,
    Control control,
    Wording wording,
    Source source,
    Checking checking,
    Presence presence,
    Tidying tidying,
    Limits limits,
    Options options,
    Optional<Unique> unique,
    Optional<Ask> ask,
    Optional<SourceColumn> exists,
    Optional<Confirmation> confirm,
    Optional<String> refersTo,
    Optional<String> repeats,
    List<Rule> rules,
    Map<String, Sentence> say,
    Fields fields,
    FieldAccess access) {

  /** Maximum number of options that are sent with a form if its control has a search. */
  public static final int MOST_SENT = 300;

  /**
   * What a person reads around the control; all but the label may be empty.
   *
   * @param add what the button says that adds a row
   */
  public record Wording(String label, String help, String placeholder, String unit, String add) {}

  /**
   * Where a value comes from, if not from the person alone.
   *
   * @param literal fills a field that is absent when a record is added
   * @param computed the same, as an expression
   * @param suggest follows other fields on the page until the person changes it
   * @param compute is the value, whatever is sent
   * @param kept false if the field steers the form and is not stored
   * @param masked true if the log of attempts does not get to see it
   * @param prefill true if the address of the page that adds may fill it in
   * @param was the name that the field had in an earlier revision, under which its values are kept
   */
  public record Source(
      Optional<Value> literal,
      Optional<Expression> computed,
      Optional<Expression> suggest,
      Optional<Expression> compute,
      boolean kept,
      boolean masked,
      boolean prefill,
      Optional<String> was) {
    public static final Source PERSON =
        new Source(
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            true,
            false,
            false,
            Optional.empty());

    /** True if a field has a first value of its own. */
    public boolean hasDefault() {
      return literal.isPresent() || computed.isPresent();
    }

    /** The same where a field has a first value. */
    public Source beginning(Optional<Value> first, Optional<Expression> worked) {
      return new Source(first, worked, suggest, compute, kept, masked, prefill, was);
    }
  }

  /** When a value must be there, when the field is there at all, when it may be changed. */
  public record Presence(Condition required, Condition shown, Condition editable) {

    /** True if only the service can decide one of them. */
    public boolean isForServer() {
      return required.isForServer() || shown.isForServer() || editable.isForServer();
    }
  }

  public Field {
    // Expressions hold the very same text, so that a look-up need not compare letters.
    name = name.intern();
    rules = List.copyOf(rules);
    say = Map.copyOf(say);
  }

  /** Begins a field with nothing but a name and a type. */
  public static FieldBuilder builder(String name, Type type) {
    return new FieldBuilder(name, type);
  }

  /** Begins a field that is as this one. */
  public FieldBuilder toBuilder() {
    return new FieldBuilder(this);
  }

  /** The same with other fields inside. */
  public Field with(Fields inside) {
    return toBuilder().fields(inside).build();
  }

  /** The same in other words. */
  public Field with(Wording other) {
    return toBuilder().wording(other).build();
  }

  /** All its conditions and computed values; those of its rules are their own. */
  public Stream<Expression> expressions() {
    return Stream.of(
            source.compute(),
            source.computed(),
            source.suggest(),
            presence.required().when(),
            presence.shown().when(),
            presence.editable().when(),
            options.where())
        .flatMap(Optional::stream);
  }

  /** Returns what people call the field. */
  public String label() {
    return wording.label();
  }

  /**
   * True if its options are too many to be sent with the form: a person looks for one by words, and
   * the service alone knows them.
   */
  public boolean hasOptionsOnService() {
    return control == Control.SEARCH
        && (options.source().isPresent() || options.choices().size() > MOST_SENT);
  }

  /** True if a page has it: what the service alone sets is neither on pages nor sent to them. */
  public boolean isOnPages() {
    return control != Control.NONE && !isHidden();
  }

  /** True if the caller may not know of it. */
  public boolean isHidden() {
    return access.hidden();
  }

  /**
   * The field as a caller has it.
   *
   * @param given whether something is given to the caller
   */
  Field seenBy(Predicate<Access.Who> given) {
    boolean hidden = access.see().filter(it -> !given.test(it)).isPresent();
    boolean fixed = hidden || access.edit().filter(it -> !given.test(it)).isPresent();
    FieldBuilder seen = toBuilder().fields(fields.seenBy(given));
    if (fixed) {
      // What the caller cannot set is not asked of them, and stays as it is.
      seen.access(new FieldAccess(access.see(), access.edit(), hidden))
          .presence(new Presence(Condition.NEVER, presence.shown(), Condition.NEVER));
    }
    return seen.build();
  }

  /** True for a field of files that may have several: it has a {@code count}. */
  public boolean takesFiles() {
    return type == Type.FILE && limits.count().isLimited();
  }

  /** True if only a digest of its value is stored. */
  public boolean isSecret() {
    return type == Type.SECRET;
  }

  /** True if its value is nothing for the log: a secret, or said to be masked. */
  public boolean isMasked() {
    return isSecret() || source.masked();
  }

  /** True if a record has a column for it: secrets have one too, for a digest. */
  public boolean isKept() {
    return source.kept();
  }

  /** The text that stands for a value where a person reads it: an option's label, yes or no. */
  public String display(Value value) {
    return display(value, Notation.STANDARD);
  }

  /** The same, with numbers and dates in a language's way. */
  public String display(Value value, Notation notation) {
    return switch (value) {
      case Value.Bool(boolean yes) -> yes ? "yes" : "no";
      case Value.Text(String text) -> isSecret() ? "" : called(text);
      case Value.Chosen(List<String> chosen) ->
          chosen.stream().map(this::called).collect(Collectors.joining(", "));
      case Value.Group(var values) ->
          fields.onPages().stream()
              .filter(field -> !values.get(field.name()).isBlank())
              .map(field -> field.displayWithUnit(values.get(field.name()), notation))
              .collect(Collectors.joining(", "));
      case Value.Rows(var rows) ->
          rows.stream()
              .map(row -> display(new Value.Group(row), notation))
              .collect(Collectors.joining("; "));
      default -> notation.shown(value);
    };
  }

  /** The same, with the unit behind it where there is one. */
  public String displayWithUnit(Value value) {
    return displayWithUnit(value, Notation.STANDARD);
  }

  private String displayWithUnit(Value value, Notation notation) {
    String text = display(value, notation);
    return text.isEmpty() || wording.unit().isEmpty() ? text : text + " " + wording.unit();
  }

  private String called(String option) {
    return options.find(option).map(Choice::label).orElse(option);
  }
}
