package nodley.core.form;

import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Stream;
import nodley.core.expression.Path;
import nodley.core.text.Message;
import nodley.core.value.Values;

/**
 * A form: its fields in order, its rules, pages and access. Immutable; thread-safe; made by {@link
 * #builder}.
 *
 * @param label what people call the form itself, made from its name
 * @param called the template for one record's name; empty if there is no text to take it from
 * @param zone where {@code today} and local times are meant; empty for the service's own
 * @param language of its texts, and of Nodley's own sentences beside them
 * @param records how many the form has
 * @param pace how much strangers may send
 * @param retention how long records are kept
 * @param drafting how unfinished submissions are kept; empty if none are
 * @param deliveries which outlets are told of what is accepted
 * @param asks what services outside are asked: about its fields, then about it as a whole
 * @param uniques those of its fields, then those over several
 * @param settling the fields that depend on others, each after those that it depends on
 * @param say what its texts put in place of Nodley's own sentences, by their keys
 */
public record Form(
    String name,
    String label,
    Locale language,
    Titles titles,
    Optional<Template> called,
    Optional<ZoneId> zone,
    Access access,
    After afterAdd,
    After afterEdit,
    Records records,
    Pages pages,
    Pace pace,
    Retention retention,
    Optional<Drafting> drafting,
    List<DeliveryRule> deliveries,
    List<Ask> asks,
    Optional<Confirmation> confirmation,
    Fields fields,
    List<Rule> rules,
    List<Unique> uniques,
    List<Path> settling,
    Map<String, Message> say) {

  /** The headings of the pages for adding, for editing, and for the list. */
  public record Titles(Template add, Template edit, String list) {}

  /** How many records a form has. */
  public enum Records {
    MANY("many"),
    /** There is only one: settings, say. It is made by its first save. */
    ONE("one"),
    /** Each person has one, as its owner: a profile, say. */
    ONE_EACH("one-each"),
    /** None is kept: what is accepted is told to outlets, and that is all. */
    NONE("none");

    private final String word;

    Records(String word) {
      this.word = word;
    }

    /** The name in form files and descriptions. */
    public String word() {
      return word;
    }
  }

  /** A field and where it is declared: its name behind those of the groups and rows around it. */
  public record Placed(List<String> path, Field field) {
    public Placed {
      path = List.copyOf(path);
    }

    /** The path as one text, such as {@code contact.email}. */
    public String dotted() {
      return String.join(".", path);
    }
  }

  public Form {
    deliveries = List.copyOf(deliveries);
    asks = List.copyOf(asks);
    rules = List.copyOf(rules);
    uniques = List.copyOf(uniques);
    settling = List.copyOf(settling);
    say = Map.copyOf(say);
  }

  /** Begins a form. */
  public static FormBuilder builder(String name, String label) {
    return new FormBuilder(name, label);
  }

  /** Begins a form that is as this one. */
  public FormBuilder toBuilder() {
    return new FormBuilder(this);
  }

  /** The same form where Nodley's own sentences are in another language. */
  public Form in(Locale other) {
    return toBuilder().language(other).build();
  }

  /** The same form with other sentences and words, and fields that differ in their texts only. */
  public Form saying(Map<String, Message> other, Fields worded) {
    return toBuilder().fields(worded).say(other).build();
  }

  /** The same form with other fields; what refers to fields by their place is left out. */
  public Form with(Fields other) {
    return toBuilder()
        .fields(other)
        .rules(List.of())
        .uniques(List.of())
        .asks(List.of())
        .settling(List.of())
        .build();
  }

  /**
   * The form as a caller has it: fields that they may not see are hidden, those that they may not
   * edit are not editable.
   *
   * @param given whether something is given to the caller
   */
  public Form seenBy(Predicate<Access.Who> given) {
    if (fields.areForAll()) {
      return this;
    }
    Fields seen = fields.seenBy(given);
    // What is not editable keeps its value, which comes before whatever reads it.
    List<Path> order = new ArrayList<>();
    for (Placed placed : every(seen)) {
      Path path = seen.path(placed.path());
      if (placed.field().presence().editable().isNever() && !settling.contains(path)) {
        order.add(path);
      }
    }
    order.addAll(settling);
    return toBuilder().fields(seen).settling(order).build();
  }

  /** Everything that is given to some only, in a fixed order: equal answers make equal forms. */
  public List<Access.Who> fieldRights() {
    return everyField().stream()
        .map(it -> it.field().access())
        .flatMap(it -> Stream.concat(it.see().stream(), it.edit().stream()))
        .distinct()
        .toList();
  }

  /** True if there is only one record, which is opened without an id. */
  public boolean isOne() {
    return records == Records.ONE;
  }

  /** True if each person has one record, which is theirs and is opened without an id. */
  public boolean isOneEach() {
    return records == Records.ONE_EACH;
  }

  /** True if no record is kept: what is accepted is told to outlets, and that is all. */
  public boolean isKeepingNone() {
    return records == Records.NONE;
  }

  /** Returns the field of a name outside of groups and rows; empty if there is none. */
  public Optional<Field> field(String name) {
    return fields.find(name);
  }

  /** All fields, those inside groups and rows too, parents first. */
  public List<Placed> everyField() {
    return every(fields);
  }

  /** The same of some fields, each with its path from there. */
  public static List<Placed> every(Fields fields) {
    List<Placed> all = new ArrayList<>();
    walk(fields, List.of(), all::add);
    return all;
  }

  private static void walk(Fields fields, List<String> outer, Consumer<Placed> each) {
    for (Field field : fields) {
      List<String> path = new ArrayList<>(outer);
      path.add(field.name());
      each.accept(new Placed(path, field));
      walk(field.fields(), path, each);
    }
  }

  /** The top-level fields in which two versions can be told apart: kept ones, and no secrets. */
  public List<Field> comparable() {
    return fields.stream().filter(field -> field.isKept() && !field.isSecret()).toList();
  }

  /** The fields whose value no other record keeps, whatever else is in it. */
  public List<List<String>> uniqueFields() {
    return uniques.stream()
        .filter(it -> it.rows().isEmpty() && !it.isTogether() && it.when().isEmpty())
        .map(Unique::at)
        .toList();
  }

  /** The names of other forms that this one's fields refer to; itself left out. */
  public List<String> refersTo() {
    return everyField().stream()
        .flatMap(it -> it.field().refersTo().stream())
        .filter(other -> !other.equals(name))
        .distinct()
        .toList();
  }

  /** Returns the heading of a page, with values filled in. */
  public String title(Mode mode, Values values, Display display) {
    return mode == Mode.ADD ? titles.add().text() : display.fill(titles.edit(), this, values);
  }

  /** Returns what happens once a record has been added or edited. */
  public After after(Mode mode) {
    return mode == Mode.ADD ? afterAdd : afterEdit;
  }

  /** The name of a record in lists, references and titles. */
  public String called(Values values, Display display) {
    String text = called.map(it -> display.fill(it, this, values)).orElse("").strip();
    return text.isEmpty() ? label : text;
  }
}
