package nodley.bench;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Choice;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;

/** Makes submissions for a form: right ones, nearly right ones, and nonsense. */
final class RandomInputs {

  private static final List<String> TEXTS =
      List.of(
          "a",
          "ab",
          "abc",
          "Abc",
          "ABC",
          "AB1",
          " a ",
          "a  b",
          "ß",
          "İ",
          "ΑΣ",
          "Σ",
          "é",
          "é",
          "ﬁ",
          "😀",
          "😀😀",
          "x\r\ny",
          "\u00a0a\u2003",
          "\u200b",
          "שלום",
          "Ü",
          "x",
          "",
          " ",
          "\t",
          "a@b.example",
          "a@b",
          "A@B.Example",
          "a b@c",
          "https://a.example",
          "HTTP://a.example/x?y#z",
          "a.example",
          "http://",
          "https://a b",
          "ftp://a.example",
          "+351 210 000 001",
          "210-000-001",
          "(210) 000.001",
          "12",
          "-3",
          "0.3",
          ".5",
          "5.",
          "1e3",
          "007",
          "+4",
          "-0",
          "0.10",
          "9007199254740991",
          "9007199254740992",
          "123456789012345",
          "1234567890123456",
          "0.000000000000001",
          "2027-03-01",
          "2027-02-29",
          "2028-02-29",
          "0000-01-01",
          "0001-01-01",
          "9999-12-31",
          "2027-3-1",
          "10:00",
          "10:00:00",
          "10:00:30",
          "24:00",
          "23:59:59",
          "2027-03-28T01:30",
          "2027-03-14T02:30",
          "2027-10-31T01:30",
          "2027-11-07T01:30:00",
          "2027-03-01T10:00:00Z",
          "2027-03-01T10:00:00.123456+01:00",
          "2027-03-01t10:00:00z",
          "2027-03-01T10:00Z",
          "0001-01-01T00:00:00+01:00",
          "true",
          "b",
          "\u0000",
          "\ud800",
          "{label}",
          "'",
          "-",
          "--a--",
          "a-b_c d",
          "Ǆ",
          "ŉ",
          "ª",
          "²",
          "ÅngströM",
          "İstanbul");

  /** Of hosts beyond ASCII, Node judges otherwise than browsers do. */
  private static final List<String> ADDRESSES =
      TEXTS.stream().filter(it -> it.chars().allMatch(c -> c < 0x80)).toList();

  private final Dice dice;
  private final Characters characters;

  RandomInputs(Dice dice) {
    this.dice = dice;
    this.characters = new Characters(dice);
  }

  Map<String, Object> of(Fields fields) {
    Map<String, Object> values = new LinkedHashMap<>();
    for (Field field : fields) {
      if (dice.in100(85)) {
        values.put(field.name(), of(field));
      }
    }
    if (dice.in100(1)) {
      values.put("nobody", "x");
    }
    return values;
  }

  private Object of(Field field) {
    if (field.type() == Type.FILE) {
      // A file that arrived is the service's to know; here it is blank, or nonsense.
      return dice.one((Object) "", 12, true, Map.of("a", "b"));
    }
    if (dice.in100(6)) {
      return nonsense();
    }
    if (dice.in100(12)) {
      return dice.in100(50) ? null : "";
    }
    return switch (field.type()) {
      case GROUP -> of(field.fields());
      case ROWS -> {
        List<Object> rows = new ArrayList<>();
        for (int i = dice.below(4); i > 0; i--) {
          rows.add(dice.in100(10) ? (dice.in100(50) ? null : Map.of()) : of(field.fields()));
        }
        yield rows;
      }
      case BOOLEAN -> dice.in100(50);
      case INTEGER -> dice.in100(60) ? (Object) dice.between(-5, 12) : dice.one(TEXTS);
      case DECIMAL ->
          dice.in100(60)
              ? (Object) (dice.between(-500, 1500) / dice.one(1.0, 4.0, 8.0, 100.0))
              : dice.one(TEXTS);
      case DATE -> dice.in100(70) ? date() : dice.one(TEXTS);
      case TIME ->
          dice.in100(70)
              ? String.format("%02d:%02d", dice.below(25), dice.below(60))
                  + dice.one("", ":00", ":07")
              : dice.one(TEXTS);
      case DATETIME ->
          dice.in100(70)
              ? date()
                  + "T"
                  + String.format("%02d:%02d", dice.below(24), dice.below(60))
                  + dice.one("", ":00Z", ":00+05:30", ":30.5Z", ":00-11:59")
              : dice.one(TEXTS);
      case CHOICE -> option(field);
      case CHOICES -> {
        List<Object> chosen = new ArrayList<>();
        for (int i = dice.below(4); i > 0; i--) {
          chosen.add(dice.in100(5) ? nonsense() : option(field));
        }
        yield chosen;
      }
      case RECORD -> dice.in100(80) ? dice.one("r1", "r2", " r1 ", "x") : text();
      case PHONE -> dice.in100(50) ? "+351 21" + dice.between(10, 9_999_999) : dice.one(TEXTS);
      case URL -> dice.one(ADDRESSES) + (dice.in100(20) ? dice.one(ADDRESSES) : "");
      default -> text();
    };
  }

  private String date() {
    return String.format(
        "%04d-%02d-%02d",
        dice.one(2026, 2027, 2027, 2028, 1), dice.between(1, 12), dice.between(1, 31));
  }

  private Object option(Field field) {
    List<Choice> choices = field.options().choices();
    return dice.in100(80) && !choices.isEmpty() ? dice.one(choices).value() : dice.one(TEXTS);
  }

  private String text() {
    if (dice.in100(25)) {
      return characters.text();
    }
    String text = dice.one(TEXTS);
    return dice.in100(25) ? text + dice.one(" ", "", "\n") + dice.one(TEXTS) : text;
  }

  private Object nonsense() {
    return switch (dice.below(8)) {
      case 0 -> 12;
      case 1 -> 0.1 + 0.2;
      case 2 -> true;
      case 3 -> List.of("a", "b");
      case 4 -> Map.of("a", "b");
      case 5 -> List.of();
      case 6 -> 1e21;
      default -> dice.one(TEXTS);
    };
  }
}
