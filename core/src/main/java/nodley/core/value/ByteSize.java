package nodley.core.value;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.List;

/**
 * How many bytes there are, as people read it: {@code 5 MiB}, {@code 1.4 MiB}, {@code 512 bytes}.
 */
public final class ByteSize {

  private static final int STEP = 1024;
  private static final List<String> UNITS = List.of("bytes", "KiB", "MiB", "GiB", "TiB");

  private ByteSize() {}

  /** Returns the size in the largest unit of which there is one, with at most one decimal. */
  public static String shown(long bytes) {
    int unit = 0;
    BigDecimal size = BigDecimal.valueOf(bytes);
    while (size.compareTo(BigDecimal.valueOf(STEP)) >= 0 && unit < UNITS.size() - 1) {
      size = size.divide(BigDecimal.valueOf(STEP));
      unit++;
    }
    BigDecimal rounded = Numbers.standard(size.setScale(1, RoundingMode.HALF_EVEN));
    return Numbers.plain(rounded) + " " + UNITS.get(unit);
  }
}
