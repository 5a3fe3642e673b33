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

  public FormBuilder language(Locale value) {
    this.language = value;
    return this;
  }

  public FormBuilder titles(Form.Titles value) {
    this.titles = value;
    return this;
  }

  public FormBuilder called(Optional<Template> value) {
    this.called = value;
    return this;
  }

  public FormBuilder zone(Optional<ZoneId> value) {
    this.zone = value;
    return this;
  }

  public FormBuilder access(Access value) {
    this.access = value;
    return this;
  }

  public FormBuilder afterAdd(After value) {
    this.afterAdd = value;
    return this;
  }

  public FormBuilder afterEdit(After value) {
    this.afterEdit = value;
    return this;
  }

  public FormBuilder records(Form.Records value) {
    this.records = value;
    return this;
  }

  public FormBuilder pages(Pages value) {
    this.pages = value;
    return this;
  }

  public FormBuilder pace(Pace value) {
    this.pace = value;
    return this;
  }

  public FormBuilder retention(Retention value) {
    this.retention = value;
    return this;
  }

  public FormBuilder drafting(Optional<Drafting> value) {
    this.drafting = value;
    return this;
  }

  public FormBuilder deliveries(List<DeliveryRule> value) {
    this.deliveries = value;
    return this;
  }

  public FormBuilder asks(List<Ask> value) {
    this.asks = value;
    return this;
  }

  public FormBuilder confirmation(Optional<Confirmation> value) {
    this.confirmation = value;
    return this;
  }

  public FormBuilder fields(Fields value) {
    this.fields = value;
    return this;
  }

  public FormBuilder rules(List<Rule> value) {
    this.rules = value;
    return this;
  }

  public FormBuilder uniques(List<Unique> value) {
    this.uniques = value;
    return this;
  }

  public FormBuilder settling(List<Path> value) {
    this.settling = value;
    return this;
  }

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
