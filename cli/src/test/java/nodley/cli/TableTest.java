package nodley.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.List;
import org.junit.jupiter.api.Test;

class TableTest {

  private static String printed(List<List<String>> rows) {
    StringWriter out = new StringWriter();
    Table.print(rows, new PrintWriter(out, true));
    return out.toString();
  }

  @Test
  void countsAndDurationsAreRightAligned() {
    assertThat(
            printed(
                List.of(
                    List.of("FORM", "RECORDS", "TOOK"),
                    List.of("berth", "7", "1.5 ms"),
                    List.of("sea-mark", "1200", ""))))
        .isEqualTo(
            """
            FORM      RECORDS    TOOK
            berth           7  1.5 ms
            sea-mark     1200
            """);
  }

  /** Of two thousand ids of sessions, one has digits alone. */
  @Test
  void anIdIsNoNumber() {
    assertThat(printed(List.of(List.of("SESSION", "WHO"), List.of("7633459254931991", "ann"))))
        .isEqualTo(
            """
            SESSION           WHO
            7633459254931991  ann
            """);
  }
}
