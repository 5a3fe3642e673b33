package nodley.core.form;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Builds a field: by default one whose only property is its value, of which nothing is asked and
 * nothing is said. For one thread.
 */
public final class FieldBuilder {

  private String name;
  private Type type;
  private Control control = Control.TEXT;
  private Field.Wording wording;
  private Field.Source source = Field.Source.PERSON;
  private Checking checking = Checking.LEAVING;
  private Field.Presence presence =
      new Field.Presence(Condition.NEVER, Condition.ALWAYS, Condition.ALWAYS);
  private Tidying tidying = Tidying.NOTHING;
  private Limits limits = Limits.NONE;
  private Options options = Options.NONE;
  private Optional<Unique> unique = Optional.empty();
  private Optional<Ask> ask = Optional.empty();
  private Optional<SourceColumn> exists = Optional.empty();
  private Optional<Confirmation> confirm = Optional.empty();
  private Optional<String> refersTo = Optional.empty();
  private Optional<String> repeats = Optional.empty();
  private List<Rule> rules = List.of();
  private Map<String, Sentence> say = Map.of();
  private Fields fields = Fields.NONE;
  private FieldAccess access = FieldAccess.ALL;

  FieldBuilder(String name, Type type) {
    this.name = name;
    this.type = type;
    this.wording = new Field.Wording(name, "", "", "", "");
  }

  FieldBuilder(Field from) {
    this.name = from.name();
    this.type = from.type();
    this.control = from.control();
    this.wording = from.wording();
    this.source = from.source();
    this.checking = from.checking();
    this.presence = from.presence();
    this.tidying = from.tidying();
    this.limits = from.limits();
    this.options = from.options();
    this.unique = from.unique();
    this.ask = from.ask();
    this.exists = from.exists();
    this.confirm = from.confirm();
    this.refersTo = from.refersTo();
    this.repeats = from.repeats();
    this.rules = from.rules();
    this.say = from.say();
    this.fields = from.fields();
    this.access = from.access();
  }

  /** Sets how a page shows it; by default a line of text. It must be one of the {@link Type}'s. */
  public FieldBuilder control(Control value) {
    this.control = value;
    return this;
  }

  /**
   * Sets its label, help, placeholder, unit and the button that adds a row; by default its name
   * alone.
   */
  public FieldBuilder wording(Field.Wording value) {
    this.wording = value;
    return this;
  }

  /** Sets where its value comes from; by default from the person. */
  public FieldBuilder source(Field.Source value) {
    this.source = value;
    return this;
  }

  /** Sets when a page judges it and asks the service; by default when it is left. */
  public FieldBuilder checking(Checking value) {
    this.checking = value;
    return this;
  }

  /** Sets when it is required, shown and editable; by default never, always and always. */
  public FieldBuilder presence(Field.Presence value) {
    this.presence = value;
    return this;
  }

  /** Sets how its text is tidied before it is judged; by default not at all. */
  public FieldBuilder tidying(Tidying value) {
    this.tidying = value;
    return this;
  }

  /** Sets the limits of its value; by default there are none. */
  public FieldBuilder limits(Limits value) {
    this.limits = value;
    return this;
  }

  /** Sets what can be chosen; by default nothing. */
  public FieldBuilder options(Options value) {
    this.options = value;
    return this;
  }

  /** Sets that no other record may have its value; empty by default. */
  public FieldBuilder unique(Optional<Unique> value) {
    this.unique = value;
    return this;
  }

  /** Sets whom outside it is told to while it is filled in; empty by default. */
  public FieldBuilder ask(Optional<Ask> value) {
    this.ask = value;
    return this;
  }

  /** Sets the column of somebody else's table in which its value must be; empty by default. */
  public FieldBuilder exists(Optional<SourceColumn> value) {
    this.exists = value;
    return this;
  }

  /** Sets that whoever reads mail at its address confirms it; empty by default. */
  public FieldBuilder confirm(Optional<Confirmation> value) {
    this.confirm = value;
    return this;
  }

  /** Sets the form whose record it names; empty by default. */
  public FieldBuilder refersTo(Optional<String> value) {
    this.refersTo = value;
    return this;
  }

  /** Sets the field, beside it, whose value it must repeat; empty by default. */
  public FieldBuilder repeats(Optional<String> value) {
    this.repeats = value;
    return this;
  }

  /** Sets the rules over the fields inside it; by default there are none. */
  public FieldBuilder rules(List<Rule> value) {
    this.rules = value;
    return this;
  }

  /** Sets its own sentences, by the code of an error or the state of an early check. */
  public FieldBuilder say(Map<String, Sentence> value) {
    this.say = value;
    return this;
  }

  /** Sets the fields inside it, of a group or of rows; by default there are none. */
  public FieldBuilder fields(Fields value) {
    this.fields = value;
    return this;
  }

  /** Sets who may see and edit it; by default whoever may see and edit the record. */
  public FieldBuilder access(FieldAccess value) {
    this.access = value;
    return this;
  }

  /** Returns what has been set, with the defaults of everything else. */
  public Field build() {
    return new Field(
        name, type, control, wording, source, checking, presence, tidying, limits, options, unique,
        ask, exists, confirm, refersTo, repeats, rules, say, fields, access);
  }
}
