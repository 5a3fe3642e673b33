package nodley.bench;

import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.ListFile;
import nodley.core.file.PartFile;
import nodley.core.file.Shared;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.core.submission.Verdict;
import nodley.core.value.Value;
import nodley.core.value.Values;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/**
 * The rule engine alone: read, tidy, judge and ask, with facts that are at hand, of a filled-in
 * visit with four people aboard.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.Throughput)
@OutputTimeUnit(TimeUnit.SECONDS)
// The collector that the service runs with.
@Fork(value = 1, jvmArgsAppend = "-XX:+UseSerialGC")
@Warmup(iterations = 3, time = 2)
@Measurement(iterations = 5, time = 2)
public class VerdictBench {

  private static final String VISIT =
      """
      {"vessel": "v1", "arrives": "2027-03-02", "departs": "2027-03-05", "eta": "14:30",
       "berth": "b1", "purpose": "trade", "cargo": "Timber", "dangerous": true,
       "services": ["water", "crane"],
       "contact": {"name": "Ann Ferrow", "email": "Ann@Harbour.example", "phone": "+351 210 000 101"},
       "crew": [{"name": "Ann Ferrow", "born": "1971-02-11", "role": "skipper", "share": 40},
                {"name": "Jory Penn", "born": "1989-08-30", "role": "mate", "share": 30.5},
                {"name": "Ives Holt", "born": "1994-01-17", "role": "hand", "share": 20},
                {"name": "Sam Orme", "born": "2001-11-05", "role": "hand", "share": 9.5}],
       "notes": "Lands on Tuesday, early."}
      """;

  private static final Context ADD =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneOffset.UTC));

  private static final Values DEEP =
      new Values(
          Map.of(
              "draught", new Value.Number(new BigDecimal("1.9")),
              "depth", new Value.Number(new BigDecimal("2.5"))));

  private static final Lookups AT_HAND =
      new Lookups() {
        @Override
        public Optional<Set<Integer>> taken(
            Form form, List<UniqueKey> keys, Optional<String> except) {
          return Optional.of(Set.of());
        }

        @Override
        public Optional<Optional<Display.Found>> record(String form, String id) {
          return Optional.of(Optional.of(new Display.Found(null, DEEP)));
        }
      };

  private record Prepared(Form form, Input input) {}

  private Prepared visit;

  @Setup
  public void prepare() throws Exception {
    visit = new Prepared(visitForm(), input(VISIT));
    if (check(visit).errors().size() > 0) {
      throw new IllegalStateException(check(visit).errors().toString());
    }
  }

  private static Form visitForm() throws IOException, FormFileException {
    Shared shared =
        Shared.NONE.with(ListFile.read(demo("lists/services.list"), Format.YAML, Optional.empty()));
    for (String part : List.of("contact", "in-order")) {
      shared =
          shared.with(
              PartFile.read(
                  demo("parts/" + part + ".part"),
                  Format.YAML,
                  Optional.empty(),
                  FormRegistry.alone(shared)));
    }
    Map<String, Form> forms = new LinkedHashMap<>();
    for (String form : List.of("berth", "vessel")) {
      forms.put(
          form,
          FormFile.read(demo("forms/" + form + ".form"), Format.YAML, FormRegistry.alone(shared)));
    }
    return FormFile.read(demo("forms/visit.form"), Format.YAML, FormRegistry.of(forms, shared));
  }

  private static String demo(String name) throws IOException {
    Path inModule = Path.of("../demo/" + name + ".yaml");
    return Files.readString(Files.exists(inModule) ? inModule : Path.of("demo/" + name + ".yaml"));
  }

  private static Input input(String json) throws Unreadable {
    return JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
  }

  private static Verdict check(Prepared prepared) {
    return Submission.check(prepared.form(), prepared.input(), ADD, AT_HAND);
  }

  /** For comparison, what comes before a judgement: Jackson reads the same visit from its bytes. */
  @Benchmark
  public Input readingOfVisit() throws Unreadable {
    return JsonInput.read(VISIT.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
  }

  /** Many short iterations, so that those with a whole core can be told. */
  @Benchmark
  @Warmup(iterations = 10, time = 1)
  @Measurement(iterations = 600, time = 50, timeUnit = TimeUnit.MILLISECONDS)
  public Verdict visitWithFourCrew(WholeCore core) {
    core.count();
    return check(visit);
  }

  /** The arguments are those of JMH: a pattern, and its options. */
  public static void main(String[] args) throws Exception {
    org.openjdk.jmh.Main.main(args);
  }
}
