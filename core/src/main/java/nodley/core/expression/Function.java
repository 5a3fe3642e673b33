package nodley.core.expression;

import java.math.BigDecimal;
import java.text.Normalizer;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import nodley.core.value.Letters;
import nodley.core.value.Value;

/**
 * The functions of the expression language. All are total. {@code round} and {@code matches} are
 * nodes of their own.
 */
enum Function {
  LENGTH {
    @Override
    Value ofText(String text) {
      return whole(text.codePointCount(0, text.length()));
    }
  },
  /** Rows and choices count what they hold; other values count one each, unless blank. */
  COUNT {
    @Override
    Value of(List<Value> values) {
      long count = 0;
      for (Value value : values) {
        count +=
            switch (value) {
              case Value.Blank _ -> 0;
              case Value.Chosen(List<String> options) -> options.size();
              case Value.Files(var files, boolean _) -> files.size();
              case Value.Rows(var rows) -> rows.size();
              default -> 1;
            };
      }
      return whole(count);
    }
  },
  SUM {
    @Override
    Value of(List<Value> values) {
      BigDecimal sum = BigDecimal.ZERO;
      for (Value value : values) {
        if (value instanceof Value.Number(BigDecimal number)) {
          sum = sum.add(number);
        }
      }
      return new Value.Number(sum);
    }
  },
  MIN {
    @Override
    Value of(List<Value> values) {
      return extreme(values, -1);
    }
  },
  MAX {
    @Override
    Value of(List<Value> values) {
      return extreme(values, 1);
    }
  },
  LOWER {
    @Override
    Value ofText(String text) {
      return Value.text(Letters.lower(text));
    }
  },
  UPPER {
    @Override
    Value ofText(String text) {
      return Value.text(Letters.upper(text));
    }
  },
  SLUG {
    @Override
    Value ofText(String text) {
      return slug(text);
    }
  },
  DAYS {
    @Override
    Value of(List<Value> values) {
      return values.get(0) instanceof Value.Date(LocalDate from)
              && values.get(1) instanceof Value.Date(LocalDate to)
          ? whole(ChronoUnit.DAYS.between(from, to))
          : Value.BLANK;
    }
  },
  YEAR {
    @Override
    Value of(List<Value> values) {
      return values.getFirst() instanceof Value.Date(LocalDate date)
          ? whole(date.getYear())
          : Value.BLANK;
    }
  };

  static final List<String> WORDS =
      List.of(
          "length", "count", "sum", "min", "max", "round", "lower", "upper", "slug", "days", "year",
          "matches", "date");

  private static final int MAX_SLUG = 60;
  private static final Pattern MARKS = Pattern.compile("\\p{M}+");
  private static final Pattern OTHERS = Pattern.compile("[^a-z0-9]+");

  String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  static Optional<Function> of(String word) {
    return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
  }

  /** What it comes to; a field of rows has given a value for each row. */
  Value of(List<Value> values) {
    return values.getFirst() instanceof Value.Text(String text) ? ofText(text) : Value.BLANK;
  }

  Value ofText(String text) {
    return Value.BLANK;
  }

  private static Value whole(long number) {
    return new Value.Number(BigDecimal.valueOf(number));
  }

  private static Value slug(String text) {
    String bare = MARKS.matcher(Normalizer.normalize(text, Normalizer.Form.NFKD)).replaceAll("");
    String joined = OTHERS.matcher(Letters.lower(bare)).replaceAll("-");
    int start = joined.startsWith("-") ? 1 : 0;
    String cut = joined.substring(start, Math.min(joined.length(), start + MAX_SLUG));
    String slug = cut.endsWith("-") ? cut.substring(0, cut.length() - 1) : cut;
    return Value.text(slug);
  }

  private static Value extreme(List<Value> values, int sign) {
    Value found = Value.BLANK;
    for (Value value : values) {
      boolean further = found == Value.BLANK || Value.compare(value, found) * sign > 0;
      if (value != Value.BLANK && further) {
        found = value;
      }
    }
    return found;
  }
}
