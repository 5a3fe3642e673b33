package nodley.bench;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import nodley.core.describe.Description;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.submission.Verdict;
import nodley.core.value.Values;
import tools.jackson.databind.JsonNode;

/**
 * Compares the core and the page runtime on random forms and random inputs: values, codes, pointers
 * and sentences. A seed names the whole run; what disagrees is shrunk to the least that still does.
 */
final class Fuzz implements AutoCloseable {

  private static final int INPUTS_PER_FORM = 100;
  private static final Context ADD =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00.250Z"), ZoneOffset.UTC));

  private static final FormRegistry WORLD = World.registry();

  private final PageRules page;
  private long refusedForms;
  private String lastRefusal = "";
  private long accepted;

  /** One comparison: a form file, and a submission, of an edit if there is a record before it. */
  record Case(Map<String, Object> form, Object values, Map<String, Object> before) {}

  /** A case on which the two disagree, with what each said. */
  record Disagreement(Case on, Object core, Object page) {
    @Override
    public String toString() {
      return "form:   "
          + PageRules.JSON.writeValueAsString(on.form())
          + "\nvalues: "
          + PageRules.JSON.writeValueAsString(on.values())
          + (on.before() == null
              ? ""
              : "\nbefore: " + PageRules.JSON.writeValueAsString(on.before()))
          + "\ncore:   "
          + core
          + "\npage:   "
          + page;
    }
  }

  Fuzz() throws IOException {
    page = new PageRules();
  }

  /** Runs so many cases; the first disagreement ends it. */
  Optional<Disagreement> run(long seed, long cases) throws IOException {
    Dice dice = new Dice(seed);
    RandomForms forms = new RandomForms(dice);
    RandomInputs inputs = new RandomInputs(dice);
    long done = 0;
    while (done < cases) {
      Map<String, Object> file = forms.form();
      Form form = read(file);
      if (form == null) {
        refusedForms++;
        continue;
      }
      List<Case> batch = new ArrayList<>();
      for (int i = 0; i < Math.min(INPUTS_PER_FORM, cases - done); i++) {
        Map<String, Object> before = dice.in100(35) ? before(form, inputs) : null;
        batch.add(new Case(file, inputs.of(form.fields()), before));
      }
      Optional<Disagreement> found = compare(form, batch);
      if (found.isPresent()) {
        return Optional.of(shrunk(found.get()));
      }
      done += batch.size();
    }
    return Optional.empty();
  }

  long refusedForms() {
    return refusedForms;
  }

  String lastRefusal() {
    return lastRefusal;
  }

  long accepted() {
    return accepted;
  }

  private Form read(Map<String, Object> file) {
    try {
      return FormFile.read(PageRules.JSON.writeValueAsString(file), Format.JSON, WORLD);
    } catch (FormFileException e) {
      lastRefusal = e.getMessage() + " " + file;
      return null;
    }
  }

  /** What a record keeps: the values of another submission, those that could be read. */
  private static Map<String, Object> before(Form form, RandomInputs inputs) {
    Verdict verdict = judge(form, inputs.of(form.fields()), null);
    boolean readable =
        verdict.errors().stream()
            .noneMatch(it -> it.code().equals("bad-input") || it.code().equals("unknown-field"));
    return readable ? members(withoutBlankRows(verdict.values().toJson())) : Map.of();
  }

  /** A refusal tells of the rows as they were sent; a record keeps none that are blank. */
  private static Object withoutBlankRows(Object tree) {
    if (tree instanceof Map<?, ?>) {
      Map<String, Object> kept = new LinkedHashMap<>();
      members(tree).forEach((name, value) -> kept.put(name, withoutBlankRows(value)));
      return kept;
    }
    return tree instanceof List<?> items
        ? items.stream().map(Fuzz::withoutBlankRows).filter(it -> !Map.of().equals(it)).toList()
        : tree;
  }

  private static Verdict judge(Form form, Object values, Map<String, Object> before) {
    try {
      Context context = ADD;
      if (before != null) {
        Values kept = Submission.check(form, input(before), ADD, Lookups.NONE).values();
        context = ADD.editing("r1", kept);
      }
      return Submission.check(form, input(values), context, Lookups.NONE);
    } catch (Unreadable e) {
      throw new IllegalStateException(e);
    }
  }

  private static nodley.core.input.Input input(Object values) throws Unreadable {
    byte[] json = PageRules.JSON.writeValueAsString(values).getBytes(StandardCharsets.UTF_8);
    return JsonInput.read(json, InputLimits.DEFAULT);
  }

  private Optional<Disagreement> compare(Form form, List<Case> batch) throws IOException {
    page.ask(Map.of("description", Description.of(form, 1, ADD)));
    List<Object> core = new ArrayList<>();
    for (Case one : batch) {
      Map<String, Object> kept = null;
      if (one.before() != null) {
        kept = judge(form, one.before(), null).values().toJson();
      }
      core.add(plain(judge(form, one.values(), one.before())));
      Map<String, Object> context = new LinkedHashMap<>();
      context.put("now", "2027-03-01T12:00:00.250Z");
      context.put("today", ADD.today(form).toString());
      if (kept != null) {
        context.put("mode", "edit");
        context.put("before", kept);
      }
      page.send(Map.of("values", one.values(), "context", context));
    }
    Optional<Disagreement> first = Optional.empty();
    for (int i = 0; i < batch.size(); i++) {
      Object told = plain(page.reply());
      if (first.isEmpty() && !told.equals(core.get(i))) {
        first = Optional.of(new Disagreement(batch.get(i), core.get(i), told));
      }
    }
    return first;
  }

  private Object plain(Verdict verdict) {
    if (verdict.isAccepted()) {
      accepted++;
    }
    return plain(PageRules.JSON.valueToTree(verdict.toJson()));
  }

  /** What must be the same on both sides; numbers as the 64-bit floats that JSON carries. */
  private static Object plain(JsonNode verdict) {
    if (verdict.has("failure")) {
      return verdict.path("failure").asString();
    }
    List<String> errors = new ArrayList<>();
    verdict
        .path("errors")
        .forEach(
            error -> {
              String code = error.path("code").asString();
              // What was probably meant, only the server looks for.
              String detail = code.equals("unknown-field") ? "" : error.path("detail").asString();
              errors.add(error.path("pointer").asString() + " " + code + " " + detail);
            });
    TreeSet<String> unasked = new TreeSet<>();
    verdict.path("unasked").forEach(it -> unasked.add(it.asString()));
    Map<String, Object> plain = new LinkedHashMap<>();
    plain.put("values", number(verdict.path("values")));
    plain.put("errors", errors);
    plain.put("unasked", unasked);
    return plain;
  }

  private static Object number(JsonNode node) {
    if (node.isObject()) {
      Map<String, Object> members = new TreeMap<>();
      node.propertyStream().forEach(it -> members.put(it.getKey(), number(it.getValue())));
      return members;
    }
    if (node.isArray()) {
      return node.valueStream().map(Fuzz::number).toList();
    }
    return node.isNumber() ? (Object) (node.doubleValue() + 0.0) : node.toString();
  }

  // ---- shrink: drop members one by one, while what is left still disagrees

  private Disagreement shrunk(Disagreement found) throws IOException {
    Disagreement least = found;
    boolean smaller = true;
    while (smaller) {
      smaller = false;
      for (Case candidate : smaller(least.on())) {
        Optional<Disagreement> still = tried(candidate);
        if (still.isPresent()) {
          least = still.get();
          smaller = true;
          break;
        }
      }
    }
    return least;
  }

  private Optional<Disagreement> tried(Case candidate) throws IOException {
    Form form = read(candidate.form());
    return form == null ? Optional.empty() : compare(form, List.of(candidate));
  }

  private static List<Case> smaller(Case one) {
    List<Case> candidates = new ArrayList<>();
    if (one.before() != null) {
      candidates.add(new Case(one.form(), one.values(), null));
    }
    for (Object form : without(one.form())) {
      candidates.add(new Case(members(form), one.values(), one.before()));
    }
    for (Object values : without(one.values())) {
      candidates.add(new Case(one.form(), values, one.before()));
    }
    if (one.before() != null) {
      for (Object before : without(one.before())) {
        candidates.add(new Case(one.form(), one.values(), members(before)));
      }
    }
    return candidates;
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> members(Object tree) {
    return (Map<String, Object>) tree;
  }

  /** All trees with one member or item less, at any depth. */
  private static List<Object> without(Object tree) {
    List<Object> smaller = new ArrayList<>();
    if (tree instanceof Map<?, ?>) {
      Map<String, Object> map = members(tree);
      for (String key : map.keySet()) {
        Map<String, Object> fewer = new LinkedHashMap<>(map);
        fewer.remove(key);
        smaller.add(fewer);
      }
      map.forEach(
          (key, value) ->
              without(value)
                  .forEach(
                      inner -> {
                        Map<String, Object> changed = new LinkedHashMap<>(map);
                        changed.put(key, inner);
                        smaller.add(changed);
                      }));
    } else if (tree instanceof List<?> list) {
      for (int i = 0; i < list.size(); i++) {
        List<Object> fewer = new ArrayList<>(list);
        fewer.remove(i);
        smaller.add(fewer);
        int index = i;
        without(list.get(i))
            .forEach(
                inner -> {
                  List<Object> changed = new ArrayList<>(list);
                  changed.set(index, inner);
                  smaller.add(changed);
                });
      }
    }
    return smaller;
  }

  @Override
  public void close() throws IOException {
    page.close();
  }

  /** Arguments: cases and seed. */
  public static void main(String[] args) throws IOException {
    long cases = Long.parseLong(args[0]);
    long seed = Long.parseLong(args[1]);
    try (Fuzz fuzz = new Fuzz()) {
      long start = System.nanoTime();
      Optional<Disagreement> found = fuzz.run(seed, cases);
      long seconds = (System.nanoTime() - start) / 1_000_000_000;
      if (found.isPresent()) {
        System.out.println("They disagree, seed " + seed + ":\n" + found.get());
        System.exit(1);
      }
      System.out.printf(
          "%d cases, seed %d: no disagreement; %d accepted, %d forms thrown away, %d s%n",
          cases, seed, fuzz.accepted(), fuzz.refusedForms(), seconds);
      if (!fuzz.lastRefusal().isEmpty() && fuzz.refusedForms() * 200 > cases) {
        System.out.println("Many forms had errors, such as: " + fuzz.lastRefusal());
      }
    }
  }
}
