package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;
import org.junit.jupiter.api.Test;

class DifferencesTest {

  private static final Values ANN =
      new Values(
          Map.of(
              "name", new Value.Text("Ann"),
              "born", new Value.Date(LocalDate.of(1971, 2, 11)),
              "note", Value.BLANK,
              "contact", new Value.Group(new Values(Map.of("mail", new Value.Text("a@b"))))));

  @Test
  void fieldsOfGroupsAreToldOneByOneAndRowsAsAWhole() {
    Values row = new Values(Map.of("share", new Value.Number(new BigDecimal("40"))));
    Raw.Members later =
        Raw.of(
            new Values(
                Map.of(
                    "name", new Value.Text("Ann"),
                    "born", Value.BLANK,
                    "contact", new Value.Group(new Values(Map.of("mail", new Value.Text("c@d")))),
                    "crew", new Value.Rows(List.of(row)))));
    List<Difference> found = Differences.between(Raw.of(ANN), later);
    assertThat(found)
        .extracting(Difference::pointer)
        .containsExactlyInAnyOrder("#/born", "#/contact/mail", "#/crew");
    assertThat(found)
        .contains(
            new Difference("#/born", new Raw.Text("1971-02-11"), new Raw.Null()),
            new Difference("#/contact/mail", new Raw.Text("a@b"), new Raw.Text("c@d")));
    assertThat(Differences.at(later, "#/contact/mail")).isEqualTo(new Raw.Text("c@d"));
    assertThat(Differences.at(later, "#/born")).isEqualTo(new Raw.Null());
    assertThat(Differences.at(Raw.of(ANN), "#/born")).isEqualTo(new Raw.Text("1971-02-11"));
  }

  @Test
  void whatIsBlankIsNoDifference() {
    assertThat(Differences.between(Raw.of(ANN), Raw.of(ANN))).isEmpty();
    assertThat(
            Differences.between(
                Raw.of(Values.NONE), new Raw.Members(Map.of("a", new Raw.Text("")))))
        .isEmpty();
  }
}
