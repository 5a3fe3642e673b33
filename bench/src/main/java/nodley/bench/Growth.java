package nodley.bench;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.file.FormFile;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import tools.jackson.databind.json.JsonMapper;

/**
 * How the cost of a verdict grows with the form: 10, 100 and 1 000 fields; 5, 50 and 500 rows. All
 * take turns, and each turn judges as many values, so that a neighbour on the same core slows them
 * alike, and what one value costs can be compared.
 */
public final class Growth {

  private static final int ROUNDS = 200;
  private static final int WARMING = 100;

  /** The values that are judged in one turn. */
  private static final int TURN = 50_000;

  private static final JsonMapper JSON = JsonMapper.shared();

  private static final Context ADD =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneOffset.UTC));

  private static long errors;

  /** A form and what fills it in; so many fields or rows, and so many values. */
  private record Sized(int size, int values, Form form, Input input) {

    /** Nanoseconds that one value takes. */
    double turn() {
      int times = TURN / values;
      long start = System.nanoTime();
      for (int i = 0; i < times; i++) {
        errors += Submission.check(form, input, ADD, Lookups.NONE).errors().size();
      }
      return (double) (System.nanoTime() - start) / times / values;
    }
  }

  private Growth() {}

  public static void main(String[] args) throws Exception {
    List<Sized> fields = List.of(wide(10), wide(100), wide(1_000));
    List<Sized> rows = List.of(tall(5), tall(50), tall(500));
    double[][] ofFields = new double[fields.size()][ROUNDS];
    double[][] ofRows = new double[rows.size()][ROUNDS];
    for (int round = -WARMING; round < ROUNDS; round++) {
      turns(fields, ofFields, round);
      turns(rows, ofRows, round);
    }
    tell("fields", fields, ofFields);
    tell("rows", rows, ofRows);
    if (errors > 0) {
      throw new IllegalStateException("What should be accepted was refused.");
    }
  }

  private static void turns(List<Sized> all, double[][] took, int round) {
    for (int i = 0; i < all.size(); i++) {
      double nanos = all.get(i).turn();
      if (round >= 0) {
        took[i][round] = nanos;
      }
    }
  }

  /** Each beside the smallest of the same round; the median of these. */
  private static void tell(String what, List<Sized> all, double[][] took) {
    for (int i = 0; i < all.size(); i++) {
      double[] ratios = new double[ROUNDS];
      for (int round = 0; round < ROUNDS; round++) {
        ratios[round] = took[i][round] / took[0][round];
      }
      System.out.printf(
          "%,6d %-6s  %5.0f ns a value  %.2f times that of the smallest%n",
          all.get(i).size(), what, median(took[i]), median(ratios));
    }
  }

  private static double median(double[] numbers) {
    double[] sorted = numbers.clone();
    Arrays.sort(sorted);
    return sorted[sorted.length / 2];
  }

  private static Input input(Object values) throws Exception {
    return JsonInput.read(
        JSON.writeValueAsString(values).getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
  }

  /** So many fields of four types; every tenth reads its neighbour. */
  private static Sized wide(int size) throws Exception {
    Map<String, Object> declared = new LinkedHashMap<>();
    Map<String, Object> values = new LinkedHashMap<>();
    for (int i = 0; i < size; i++) {
      String name = "f" + i;
      Map<String, Object> field = new LinkedHashMap<>();
      switch (i % 4) {
        case 0 -> {
          field.put("type", "text");
          field.put("length", "1..60");
          values.put(name, "Grey Heron " + i);
        }
        case 1 -> {
          field.put("type", "integer");
          field.put("range", "0..5000");
          values.put(name, i);
        }
        case 2 -> {
          field.put("type", "date");
          values.put(name, "2027-03-01");
        }
        default -> {
          field.put("type", "choice");
          field.put("options", List.of("a", "b", "c"));
          values.put(name, "b");
        }
      }
      if (i % 10 == 9 && i % 4 == 1) {
        field.put("shown", "f" + (i - 8) + " >= 0");
      }
      declared.put(name, field);
    }
    Map<String, Object> form = Map.of("form", "wide", "fields", declared);
    return new Sized(
        size,
        size,
        FormFile.read(JSON.writeValueAsString(form), Format.JSON, FormRegistry.UNKNOWN),
        input(values));
  }

  private static Sized tall(int size) throws Exception {
    List<Object> values = new ArrayList<>();
    for (int i = 0; i < size; i++) {
      values.add(Map.of("name", "Ann " + i, "share", 0.25));
    }
    String form =
        """
        form: tall
        fields:
          crew:
            type: rows
            fields:
              name: { type: text, required: true, length: 2..60 }
              share: { type: decimal, range: 0..100 }
          total: { type: decimal, compute: sum(crew.share) }
        """;
    return new Sized(size, 2 * size, FormFile.read(form), input(Map.of("crew", values)));
  }
}
