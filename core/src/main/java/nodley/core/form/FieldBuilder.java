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

  public FieldBuilder control(Control value) {
    this.control = value;
    return this;
  }

  public FieldBuilder wording(Field.Wording value) {
    this.wording = value;
    return this;
  }

  public FieldBuilder source(Field.Source value) {
    this.source = value;
    return this;
  }

  public FieldBuilder checking(Checking value) {
    this.checking = value;
    return this;
  }

  public FieldBuilder presence(Field.Presence value) {
    this.presence = value;
    return this;
  }

  public FieldBuilder tidying(Tidying value) {
    this.tidying = value;
    return this;
  }

  public FieldBuilder limits(Limits value) {
    this.limits = value;
    return this;
  }

  public FieldBuilder options(Options value) {
    this.options = value;
    return this;
  }

  public FieldBuilder unique(Optional<Unique> value) {
    this.unique = value;
    return this;
  }

  public FieldBuilder ask(Optional<Ask> value) {
    this.ask = value;
    return this;
  }

  public FieldBuilder exists(Optional<SourceColumn> value) {
    this.exists = value;
    return this;
  }

  public FieldBuilder confirm(Optional<Confirmation> value) {
    this.confirm = value;
    return this;
  }

  public FieldBuilder refersTo(Optional<String> value) {
    this.refersTo = value;
    return this;
  }

  public FieldBuilder repeats(Optional<String> value) {
    this.repeats = value;
    return this;
  }

  public FieldBuilder rules(List<Rule> value) {
    this.rules = value;
    return this;
  }

  public FieldBuilder say(Map<String, Sentence> value) {
    this.say = value;
    return this;
  }

  public FieldBuilder fields(Fields value) {
    this.fields = value;
    return this;
  }

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
