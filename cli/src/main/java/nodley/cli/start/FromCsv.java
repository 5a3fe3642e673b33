package nodley.cli.start;

import java.io.IOException;
import java.io.Reader;
import java.io.StringReader;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** Data with a line of names above it (RFC 4180; semicolons and tabs are taken as well). */
public final class FromCsv {

  /** So many lines are looked at. */
  private static final int MAX_LINES = 100_000;

  private static final long MAX_BYTES = 64L << 20;

  /** A text is taken for a choice if it has so few values, each of them so often on average. */
  private static final int MAX_OPTIONS = 8;

  private static final int OFTEN = 3;

  private FromCsv() {}

  /**
   * Begins a form from data.
   *
   * @throws BadSource if it is no such data
   */
  public static Sketch read(String form, Path file) throws BadSource {
    String text = text(file);
    List<List<String>> columns = new ArrayList<>();
    List<String> names;
    int lines = 0;
    try (Reader in = new StringReader(text);
        CSVParser parser =
            CSVFormat.DEFAULT
                .builder()
                .setDelimiter(delimiter(text))
                .setTrim(true)
                .setIgnoreEmptyLines(true)
                .get()
                .parse(in)) {
      var records = parser.iterator();
      if (!records.hasNext()) {
        throw new BadSource("The file " + file + " is empty.");
      }
      names = records.next().toList();
      names.forEach(_ -> columns.add(new ArrayList<>()));
      while (records.hasNext() && lines < MAX_LINES) {
        CSVRecord record = records.next();
        lines++;
        for (int i = 0; i < columns.size(); i++) {
          columns.get(i).add(i < record.size() ? record.get(i) : "");
        }
      }
    } catch (IOException | IllegalStateException | java.io.UncheckedIOException e) {
      throw new BadSource("The file " + file + " cannot be read as CSV: " + reason(e));
    }
    Sketch sketch =
        new Sketch(form, lines + (lines == 1 ? " line" : " lines") + " of " + file.getFileName());
    for (int i = 0; i < columns.size(); i++) {
      FieldSketch field =
          names.get(i).isBlank()
              ? sketch.fields.add("column" + (i + 1))
              : sketch.fields.addLabelled(names.get(i));
      column(field, columns.get(i));
    }
    return sketch;
  }

  private static String text(Path file) throws BadSource {
    try {
      if (!Files.isRegularFile(file)) {
        throw new BadSource("The file " + file + " is not there.");
      }
      if (Files.size(file) > MAX_BYTES) {
        throw new BadSource(
            "The file " + file + " is larger than 64 MiB; its beginning is enough.");
      }
      String text =
          StandardCharsets.UTF_8
              .newDecoder()
              .decode(ByteBuffer.wrap(Files.readAllBytes(file)))
              .toString();
      return text.startsWith("\uFEFF") ? text.substring(1) : text;
    } catch (CharacterCodingException e) {
      throw new BadSource("The file " + file + " is not UTF-8 text.");
    } catch (IOException e) {
      throw new BadSource("The file " + file + " cannot be read.");
    }
  }

  private static String reason(Exception e) {
    return String.valueOf(e.getMessage())
        .lines()
        .findFirst()
        .orElse("")
        .replaceAll("^.*Exception: ", "");
  }

  /** Of comma, semicolon and tab the one that stands most often in the first line. */
  private static String delimiter(String text) {
    String first = text.lines().findFirst().orElse("");
    String best = ",";
    for (String each : List.of(";", "\t")) {
      if (count(first, each) > count(first, best)) {
        best = each;
      }
    }
    return best;
  }

  private static int count(String text, String what) {
    return text.length() - text.replace(what, "").length();
  }

  private static void column(FieldSketch field, List<String> all) {
    List<String> values = all.stream().filter(it -> !it.isBlank()).toList();
    Set<String> distinct = new LinkedHashSet<>(values);
    String type = Guess.byValues(values);
    field.type(type);
    boolean few =
        distinct.size() > 1
            && distinct.size() <= MAX_OPTIONS
            && values.size() >= distinct.size() * OFTEN;
    if (type.equals("text") && few) {
      field.type("choice").put("options", List.copyOf(distinct));
      field.say("A choice, for only these " + distinct.size() + " values are in the data.");
    } else if (type.equals("text")) {
      int longest =
          values.stream().mapToInt(it -> it.codePointCount(0, it.length())).max().orElse(0);
      if (values.stream().anyMatch(it -> it.contains("\n"))) {
        field.put("multiline", true);
      }
      if (longest > 0) {
        field.say("The longest value has " + longest + " characters.");
      }
    } else if (values.size() > 0) {
      field.say("All " + values.size() + " values can be read as " + type + ".");
    }
    if (values.isEmpty()) {
      field.say("It has no values; its type is not known.");
    } else if (values.size() == all.size() && !type.equals("boolean")) {
      field.put("required", true).say("No value is blank.");
    }
    boolean differ = values.size() > 1 && distinct.size() == values.size();
    if (differ && !type.equals("boolean")) {
      field.say("All values differ: `unique: true`, if that is so by rule.");
    }
  }
}
