package nodley.core.sample;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import nodley.core.expression.Expression;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Rule;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.name.Pointer;
import nodley.core.submission.Context;
import nodley.core.submission.FieldError;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.submission.Verdict;
import nodley.core.value.Raw;
import nodley.core.value.Values;

/**
 * Makes values for a form that it accepts, and values with exactly one fault. Each is run through
 * the pipeline before it is returned, and made anew where the verdict is another one than was
 * wanted; after 600 rounds it is given up. Not thread-safe. The same seed gives the same values.
 */
public final class Sampler {

  /** So often something that is refused is made anew before it is given up. */
  private static final int ROUNDS = 600;

  private final Form form;
  private final Context context;
  private final Lookups lookups;
  private final FieldSample fields;
  private final SeededRandom random;

  /**
   * Values with one fault.
   *
   * @param pointer where the error stands; {@code #} for the form as a whole
   * @param detail the sentence that a person is told
   */
  public record Wrong(Map<String, Raw> values, String pointer, String code, String detail) {}

  /**
   * A maker of values.
   *
   * @param records the ids of records that a reference may point at, by the name of their form
   * @param seed the same seed makes the same values, given the same facts
   */
  public Sampler(
      Form form,
      Context context,
      Lookups lookups,
      Function<String, List<String>> records,
      long seed) {
    this.form = form;
    this.context = context;
    this.lookups = lookups;
    this.random = new SeededRandom(seed);
    this.fields = new FieldSample(random, context.today(form), context.now(), records);
  }

  private Verdict check(Map<String, Raw> values) {
    return Submission.check(form, new Input(values, Input.Encoding.JSON), context, lookups);
  }

  /** What stood against the last values that were made. */
  public record Outcome(Optional<Map<String, Raw>> values, List<FieldError> against) {}

  /** Values that the form accepts; nothing if none could be found. */
  public Outcome right() {
    Map<String, Raw> values = fields.of(form.fields());
    Verdict verdict = check(values);
    for (int round = 0; !verdict.isAccepted() && round < ROUNDS; round++) {
      mend(values, random.one(verdict.errors()));
      FieldSample.repeat(form.fields(), values);
      verdict = check(values);
    }
    if (!verdict.isAccepted()) {
      return new Outcome(Optional.empty(), verdict.errors());
    }
    // What is not shown would be dropped all the same.
    Values judged = verdict.values();
    values.keySet().removeIf(name -> judged.get(name).isBlank() && !isSecret(name));
    return new Outcome(Optional.of(values), List.of());
  }

  private boolean isSecret(String name) {
    return form.field(name).filter(Field::isSecret).isPresent();
  }

  /** Makes the value at an error anew; for a rule, one of the values that it reads. */
  private void mend(Map<String, Raw> values, FieldError error) {
    if (error.code().equals("rule")) {
      List<String> read = new ArrayList<>(List.of(top(error.pointer())));
      rules().forEach(rule -> rule.must().reads().forEach(it -> read.add(it.names().getFirst())));
      read.removeIf(name -> form.field(name).filter(FieldSample::isTyped).isEmpty());
      if (!read.isEmpty()) {
        renew(values, form.field(random.one(read)).orElseThrow());
      }
      return;
    }
    Field field = form.field(top(error.pointer())).orElse(null);
    if (field != null && error.code().equals("not-an-option")) {
      offerOtherwise(values, field);
      return;
    }
    if (field == null || !FieldSample.isTyped(field) || error.code().equals("not-editable")) {
      values.remove(top(error.pointer()));
    } else {
      renew(values, field.repeats().flatMap(form::field).orElse(field));
    }
  }

  /** Another option; or another value of what decides on the options; or none at all. */
  private void offerOtherwise(Map<String, Raw> values, Field field) {
    List<Field> around = new ArrayList<>(List.of(field));
    field.options().where().stream()
        .flatMap(where -> where.reads().stream())
        .filter(path -> path.up() > 0)
        .flatMap(path -> form.field(path.names().getFirst()).stream())
        .filter(FieldSample::isTyped)
        .forEach(around::add);
    if (field.presence().required().isNever() && random.between(0, 20) == 0) {
      values.remove(field.name());
    } else {
      renew(values, random.one(around));
    }
  }

  private void renew(Map<String, Raw> values, Field field) {
    fields
        .of(field)
        .ifPresentOrElse(raw -> values.put(field.name(), raw), () -> values.remove(field.name()));
  }

  private Stream<Rule> rules() {
    return Stream.concat(
        form.rules().stream(),
        form.everyField().stream().flatMap(it -> it.field().rules().stream()));
  }

  private static String top(String pointer) {
    String[] steps = pointer.split("/");
    return steps.length > 1 ? steps[1] : "";
  }

  /**
   * Values with one fault each: for every field each code that can be brought about, and for every
   * rule one breach.
   *
   * @param existing a record that is kept, whose unique values are taken
   */
  public List<Wrong> wrong(Map<String, Raw> right, Optional<Values> existing) {
    List<Wrong> found = new ArrayList<>();
    faults(right, form.fields(), List.of(), Pointer.ROOT, found);
    existing.ifPresent(kept -> taken(right, kept, found));
    breaches(right, found);
    Map<String, Raw> stray = new LinkedHashMap<>(right);
    stray.put("noSuchField", new Raw.Text("x"));
    keep(stray, "#/noSuchField", "unknown-field", found);
    return found;
  }

  private void faults(
      Map<String, Raw> right,
      Fields inside,
      List<Object> outer,
      String pointer,
      List<Wrong> found) {
    for (Field field : inside) {
      List<Object> path = new ArrayList<>(outer);
      path.add(field.name());
      String here = Pointer.in(pointer, field.name());
      Raw now = Tree.at(right, path).orElse(new Raw.Null());
      new InvalidSamples(field, context.today(form), context.now())
          .all(now)
          .forEach((code, raw) -> keep(Tree.with(right, path, raw), here, code, found));
      if (field.type() == Type.GROUP) {
        faults(right, field.fields(), path, here, found);
      } else if (field.type() == Type.ROWS && now instanceof Raw.Many) {
        path.add(0);
        faults(right, field.fields(), path, here + "/0", found);
      }
    }
  }

  private void taken(Map<String, Raw> right, Values kept, List<Wrong> found) {
    for (List<String> path : form.uniqueFields()) {
      String value = kept.at(path).shown();
      if (!value.isEmpty()) {
        keep(
            Tree.with(right, List.copyOf(path), new Raw.Text(value)),
            "#/" + String.join("/", path),
            "taken",
            found);
      }
    }
  }

  /** Makes the values that a rule reads anew until it is broken, and nothing else is. */
  private void breaches(Map<String, Raw> right, List<Wrong> found) {
    for (Rule rule : rules().toList()) {
      List<Field> read =
          rule.must().reads().stream()
              .map(Expression.Read::names)
              .flatMap(names -> form.field(names.getFirst()).stream())
              .flatMap(this::behind)
              .distinct()
              .toList();
      for (int round = 0; round < ROUNDS && !read.isEmpty(); round++) {
        Map<String, Raw> values = new LinkedHashMap<>(right);
        read.forEach(field -> renew(values, field));
        List<FieldError> errors = check(values).errors();
        boolean one = errors.size() == 1 && errors.getFirst().code().equals("rule");
        if (one && isNew(errors.getFirst(), found)) {
          found.add(wrong(values, errors.getFirst()));
          break;
        }
      }
    }
  }

  private static Wrong wrong(Map<String, Raw> values, FieldError error) {
    return new Wrong(values, error.pointer(), error.code(), error.detail());
  }

  private static boolean isNew(FieldError error, List<Wrong> found) {
    return found.stream()
        .noneMatch(
            it -> it.pointer().equals(error.pointer()) && it.detail().equals(error.detail()));
  }

  /** What people fill in behind a field that is read: what it is computed from, and shown by. */
  private Stream<Field> behind(Field field) {
    Stream<Expression> through =
        Stream.of(field.source().compute(), field.presence().shown().when())
            .flatMap(Optional::stream);
    return Stream.concat(
            Stream.of(field),
            through
                .flatMap(it -> it.reads().stream())
                .flatMap(it -> form.field(it.names().getFirst()).stream()))
        .filter(FieldSample::isTyped);
  }

  private void keep(Map<String, Raw> values, String pointer, String code, List<Wrong> found) {
    List<FieldError> errors = check(values).errors();
    boolean expected =
        errors.size() == 1
            && errors.getFirst().pointer().equals(pointer)
            && errors.getFirst().code().equals(code);
    if (expected) {
      found.add(wrong(values, errors.getFirst()));
    }
  }
}
