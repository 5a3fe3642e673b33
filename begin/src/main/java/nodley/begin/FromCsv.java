package nodley.begin;

import com.ibm.icu.text.CharsetDetector;
import com.ibm.icu.text.CharsetMatch;
import java.io.IOException;
import java.io.Reader;
import java.io.StringReader;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** Data with a line of names above it (RFC 4180; semicolons and tabs are taken as well). */
public final class FromCsv {

  /** Maximum number of lines that are read. */
  private static final int MAX_LINES = 100_000;

  /** A text is taken for a choice if it has so few values, each of them so often on average. */
  private static final int MAX_OPTIONS = 8;

  private static final int OFTEN = 3;

  private FromCsv() {}

  /**
   * Begins a form from data.
   *
   * @param encoding the name of the charset that it is in; empty to find out
   * @throws BadSource if it is no such data
   */
  public static Sketch read(String form, SourceFile file, Optional<String> encoding)
      throws BadSource {
    Decoded decoded = decoded(file, encoding);
    String text = decoded.text();
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
        throw new BadSource("The file " + file.name() + " is empty.");
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
      throw new BadSource("The file " + file.name() + " cannot be read as CSV: " + reason(e));
    }
    Sketch sketch =
        new Sketch(form, lines + (lines == 1 ? " line" : " lines") + " of " + file.lastName());
    if (!decoded.note().isEmpty()) {
      sketch.say(decoded.note());
    }
    for (int i = 0; i < columns.size(); i++) {
      FieldSketch field =
          names.get(i).isBlank()
              ? sketch.fields.add("column" + (i + 1))
              : sketch.fields.addLabelled(names.get(i));
      column(field, columns.get(i));
    }
    return sketch;
  }

  /** The text of a file, and what is to be said of how it was read. */
  private record Decoded(String text, String note) {}

  private static Decoded decoded(SourceFile file, Optional<String> encoding) throws BadSource {
    byte[] bytes = file.bytes();
    try {
      if (encoding.isPresent()) {
        return new Decoded(decoded(bytes, Charset.forName(encoding.get())), "");
      }
      return guessed(bytes);
    } catch (IllegalArgumentException e) {
      throw new BadSource(
          "There is no encoding " + encoding.orElse("") + "; ISO-8859-1 is one, and UTF-16.");
    } catch (CharacterCodingException e) {
      throw new BadSource(
          "The file %s is not %s text; --encoding says what it is."
              .formatted(file.name(), encoding.orElse("UTF-8")));
    }
  }

  /** By the mark at its beginning, or as UTF-8; if it is neither, by how often characters come. */
  private static Decoded guessed(byte[] bytes) throws CharacterCodingException {
    boolean marked =
        bytes.length > 1
            && (bytes[0] == (byte) 0xFE && bytes[1] == (byte) 0xFF
                || bytes[0] == (byte) 0xFF && bytes[1] == (byte) 0xFE);
    if (marked) {
      return new Decoded(decoded(bytes, StandardCharsets.UTF_16), "It was read as UTF-16.");
    }
    try {
      return new Decoded(decoded(bytes, StandardCharsets.UTF_8), "");
    } catch (CharacterCodingException e) {
      CharsetMatch match = new CharsetDetector().setText(bytes).detect();
      String name = match == null ? "" : match.getName();
      // Only those in which each byte is a character: of others a guess would be a gamble.
      if (!name.startsWith("ISO-8859") && !name.startsWith("windows")) {
        throw e;
      }
      return new Decoded(
          decoded(bytes, Charset.forName(name)),
          "It is not UTF-8; " + name + " is a guess, and --encoding says another.");
    }
  }

  private static String decoded(byte[] bytes, Charset charset) throws CharacterCodingException {
    String text = charset.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
    return text.startsWith("\uFEFF") ? text.substring(1) : text;
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
    Optional<Guess.Written> written = Guess.written(values);
    String type = written.map(Guess.Written::type).orElseGet(() -> Guess.byValues(values));
    field.type(type);
    written.ifPresent(it -> field.say(it.note()));
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
    } else if (values.size() > 0 && written.isEmpty()) {
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
