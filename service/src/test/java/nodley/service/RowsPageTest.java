package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;

/** Rows of a record that is edited on a page: each stays the one it is, with what it hides. */
class RowsPageTest {

  private static final String HOST =
      """
      form: host
      access: { add: anyone, see: anyone, edit: anyone }
      after: { edit: { go: stay, say: "Saved." } }
      fields:
        name: { type: text }
        users:
          type: rows
          fields:
            user: { type: text, required: true }
            pw: { type: secret, required: true }
      """;

  private static RunningService service;
  private static Browser scripted;
  private static Browser plain;

  private String id;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publish("host", HOST);
    scripted = Browser.withScript(service.address());
    plain = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    scripted.close();
    plain.close();
    service.close();
  }

  @BeforeEach
  void add() {
    Wire.Reply added =
        service
            .wire()
            .add(
                "host",
                """
                {"name": "Quay", "users": [{"user": "ann", "pw": "one"}, {"user": "bob", "pw": "two"}]}
                """);
    id = added.json().path("id").asString();
  }

  /** The users of the record, each with the digest of the password it has. */
  private List<String> kept() throws SQLException {
    List<String> kept = new ArrayList<>();
    String sql =
        "SELECT user, pw FROM \"host.users\" WHERE record_id = '" + id + "' ORDER BY row_number";
    try (Connection on =
            DriverManager.getConnection("jdbc:sqlite:" + service.data().resolve("nodley.db"));
        Statement statement = on.createStatement();
        ResultSet rows = statement.executeQuery(sql)) {
      while (rows.next()) {
        kept.add(rows.getString(1) + " " + rows.getString(2));
      }
    }
    return kept;
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void aRowThatIsRenamedOrMovedKeepsItsSecret(boolean script) throws Exception {
    String ann = kept().get(0).replace("ann ", "");
    String bob = kept().get(1).replace("bob ", "");
    Browser browser = script ? scripted : plain;
    if (script) {
      browser.openBound("/forms/host/" + id + "/edit");
    } else {
      browser.open("/forms/host/" + id + "/edit");
    }
    browser.type("#f-users-1-user", "robert");
    browser.find("button[name=_up][value='users[1]']").click();
    browser.until("moved", () -> browser.valueOf("#f-users-0-user").equals("robert"));
    browser.type("#f-users-1-user", "anna");
    browser.find("form.nodley button[type=submit]:not([name^='_'])").click();
    browser.until("saved", () -> browser.driver().getPageSource().contains("Saved."));
    assertThat(kept()).containsExactly("robert " + bob, "anna " + ann);
  }

  @Test
  void aSecondEditOfAnOpenPageKnowsTheRowThatTheFirstMade() throws Exception {
    scripted.openBound("/forms/host/" + id + "/edit");
    scripted.find("button[name=_more]").click();
    scripted.type("#f-users-2-user", "cy");
    scripted.type("#f-users-2-pw", "three");
    By send = By.cssSelector("form.nodley button[type=submit]:not([name^='_'])");
    scripted.driver().findElement(send).click();
    scripted.until("saved", () -> scripted.driver().getPageSource().contains("Saved."));
    String cy = kept().get(2).replace("cy ", "");
    assertThat(cy).isNotEqualTo("null");
    scripted.type("#f-users-2-user", "cyril");
    scripted.type("#f-users-2-pw", "");
    scripted.driver().findElement(send).click();
    scripted.until("version 3", () -> version() == 3);
    assertThat(kept().get(2)).isEqualTo("cyril " + cy);
  }

  private int version() {
    return service.wire().get("/api/forms/host/records/" + id).json().path("version").asInt();
  }

  /** By its number a row goes to where it is dropped, with all that is typed and kept in it. */
  @Test
  void aRowIsDraggedByItsNumber() throws SQLException {
    List<String> before = kept();
    scripted.openBound("/forms/host/" + id + "/edit");
    scripted.find("button[name=_more]").click();
    scripted.type("[name='users[2].user']", "cy");
    scripted.type("[name='users[2].pw']", "three");
    drag(2, -1, "");
    assertThat(users()).containsExactly("cy", "ann", "bob");
    drag(0, 1, Keys.ESCAPE);
    assertThat(users()).containsExactly("cy", "ann", "bob");
    drag(0, 1, "");
    assertThat(users()).containsExactly("ann", "cy", "bob");
    drag(0, 3, "");
    assertThat(users()).containsExactly("cy", "bob", "ann");
    scripted.find("form.nodley .actions button[type=submit]").click();
    scripted.untilText(".said", "Saved.");
    List<String> after = kept();
    assertThat(after.getFirst()).startsWith("cy");
    assertThat(after.subList(1, 3)).containsExactly(before.get(1), before.get(0));
  }

  private static List<String> users() {
    return scripted.all("[name$='.user']").stream().map(it -> it.getDomProperty("value")).toList();
  }

  /** Drags a row past the middle of as many others as there are between, downwards or upwards. */
  private static void drag(int row, int past, CharSequence meanwhile) {
    List<WebElement> rows = scripted.all("fieldset.row");
    scripted.driver().executeScript("arguments[0].scrollIntoView({block: 'center'})", rows.get(1));
    WebElement grip = rows.get(row).findElement(By.tagName("legend"));
    WebElement other = rows.get(Math.clamp(past, 0, rows.size() - 1));
    int there = other.getRect().y + (past < row ? 0 : other.getRect().height);
    int here = grip.getRect().y + grip.getRect().height / 2;
    Actions actions = new Actions(scripted.driver());
    actions
        .clickAndHold(grip)
        .moveByOffset(0, (there - here) / 2)
        .moveByOffset(0, there - here - (there - here) / 2);
    if (meanwhile.length() > 0) {
      actions.sendKeys(meanwhile);
    }
    actions.release().perform();
  }
}
