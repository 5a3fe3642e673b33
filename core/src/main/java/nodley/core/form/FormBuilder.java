package nodley.core.form;

import java.time.ZoneId;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.Path;
import nodley.core.text.Message;

/**
 * Builds a form: by default in English, with many records and without rules. Titles, access, pages
 * and what happens after a submission have no default. For one thread.
 */
public final class FormBuilder {

  private String name;
  private String label;
  private Locale language = Locale.ENGLISH;
  private Form.Titles titles;
  private Optional<Template> called = Optional.empty();
  private Optional<ZoneId> zone = Optional.empty();
  private Access access;
  private After afterAdd;
  private After afterEdit;
  private Form.Records records = Form.Records.MANY;
  private Pages pages;
  private Pace pace = Pace.OF_SERVICE;
  private Retention retention = Retention.FOR_EVER;
  private Optional<Drafting> drafting = Optional.empty();
  private List<DeliveryRule> deliveries = List.of();
  private List<Ask> asks = List.of();
  private Optional<Confirmation> confirmation = Optional.empty();
  private Fields fields = Fields.NONE;
  private List<Rule> rules = List.of();
  private List<Unique> uniques = List.of();
  private List<Path> settling = List.of();
  private Map<String, Message> say = Map.of();

  FormBuilder(String name, String label) {
    this.name = name;
    this.label = label;
  }

  FormBuilder(Form from) {
    this.name = from.name();
    this.label = from.label();
    this.language = from.language();
    this.titles = from.titles();
    this.called = from.called();
    this.zone = from.zone();
    this.access = from.access();
    this.afterAdd = from.afterAdd();
    this.afterEdit = from.afterEdit();
    this.records = from.records();
    this.pages = from.pages();
    this.pace = from.pace();
    this.retention = from.retention();
    this.drafting = from.drafting();
    this.deliveries = from.deliveries();
    this.asks = from.asks();
    this.confirmation = from.confirmation();
    this.fields = from.fields();
    this.rules = from.rules();
    this.uniques = from.uniques();
    this.settling = from.settling();
    this.say = from.say();
  }

  /** Sets the language that its texts are in; by default English. */
  public FormBuilder language(Locale value) {
    this.language = value;
    return this;
  }

  /** Sets the titles of its pages. They have no default. */
  public FormBuilder titles(Form.Titles value) {
    this.titles = value;
    return this;
  }

  /** Sets what one of its records is called; empty by default. */
  public FormBuilder called(Optional<Template> value) {
    this.called = value;
    return this;
  }

  /** Sets the time zone of its dates and times; empty by default, and then that of the service. */
  public FormBuilder zone(Optional<ZoneId> value) {
    this.zone = value;
    return this;
  }

  /** Sets who may add, see, edit and remove. It has no default. */
  public FormBuilder access(Access value) {
    this.access = value;
    return this;
  }

  /** Sets what a page does once a record is added. It has no default. */
  public FormBuilder afterAdd(After value) {
    this.afterAdd = value;
    return this;
  }

  /** Sets what a page does once a record is edited. It has no default. */
  public FormBuilder afterEdit(After value) {
    this.afterEdit = value;
    return this;
  }

  /** Sets how many records it has: many, one, one a person, or none; by default many. */
  public FormBuilder records(Form.Records value) {
    this.records = value;
    return this;
  }

  /** Sets how its pages are laid out. They have no default. */
  public FormBuilder pages(Pages value) {
    this.pages = value;
    return this;
  }

  /** Sets how much one address may send; by default what the service allows. */
  public FormBuilder pace(Pace value) {
    this.pace = value;
    return this;
  }

  /** Sets how long records are kept; by default until somebody removes them. */
  public FormBuilder retention(Retention value) {
    this.retention = value;
    return this;
  }

  /** Sets how unfinished submissions are kept; by default they are not. */
  public FormBuilder drafting(Optional<Drafting> value) {
    this.drafting = value;
    return this;
  }

  /** Sets which changes are told to outlets; by default none. */
  public FormBuilder deliveries(List<DeliveryRule> value) {
    this.deliveries = value;
    return this;
  }

  /** Sets whom outside whole submissions are told to; by default nobody. */
  public FormBuilder asks(List<Ask> value) {
    this.asks = value;
    return this;
  }

  /** Sets the e-mail address that is to be confirmed; empty by default. */
  public FormBuilder confirmation(Optional<Confirmation> value) {
    this.confirmation = value;
    return this;
  }

  /** Sets its fields, in their order; by default there are none. */
  public FormBuilder fields(Fields value) {
    this.fields = value;
    return this;
  }

  /** Sets its rules over several fields; by default there are none. */
  public FormBuilder rules(List<Rule> value) {
    this.rules = value;
    return this;
  }

  /** Sets which values no two records may share; by default none. */
  public FormBuilder uniques(List<Unique> value) {
    this.uniques = value;
    return this;
  }

  /** Sets the paths of fields that depend on others, each after those that it reads. */
  public FormBuilder settling(List<Path> value) {
    this.settling = value;
    return this;
  }

  /** Sets its own sentences for codes of errors, whatever the field. */
  public FormBuilder say(Map<String, Message> value) {
    this.say = value;
    return this;
  }

  /** Returns what has been set, with the defaults of everything else. */
  public Form build() {
    return new Form(
        name,
        label,
        language,
        titles,
        called,
        zone,
        access,
        afterAdd,
        afterEdit,
        records,
        pages,
        pace,
        retention,
        drafting,
        deliveries,
        asks,
        confirmation,
        fields,
        rules,
        uniques,
        settling,
        say);
  }
}
