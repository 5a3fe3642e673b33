package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Fields that are named as members of JavaScript's objects, of a form in a page, or as words of
 * SQL: each is a field and nothing else, on the page, on the wire and in the tables.
 */
class NamesPageTest {

  /** Barred as names of fields. */
  private static final Set<String> BARRED =
      Set.of("id", "oid", "rowid", "form", "version", "revision", "constructor", "prototype");

  /** What SQLite reserves, or reads in another way where it stands without quotes. */
  private static final String SQL =
      "abort add all alter and as asc between by case check collate column commit create cross"
          + " current default delete desc distinct drop each else end escape except exists explain"
          + " fail filter foreign from full glob group having if in index inner insert intersect"
          + " into is isnull join key left like limit match natural no not notnull null of offset"
          + " on or order outer over plan pragma primary query raise range references regexp"
          + " release rename replace right rollback row rows savepoint select set table"
          + " temp then to transaction trigger union unique update using values view virtual when"
          + " where window with without";

  private static RunningService service;
  private static Browser browser;
  private static List<String> names;

  @BeforeAll
  @SuppressWarnings("unchecked")
  static void start() {
    service = RunningService.fresh();
    browser = Browser.withScript(service.address());
    browser.open("/forms");
    List<String> members =
        (List<String>)
            browser
                .driver()
                .executeScript(
                    """
                    return [Object, EventTarget, Node, Element, HTMLElement, HTMLFormElement]
                      .flatMap((type) => Object.getOwnPropertyNames(type.prototype));
                    """);
    Map<String, String> byName = new TreeMap<>();
    Stream.concat(members.stream(), Stream.of(SQL.split(" ")))
        .filter(name -> name.matches("[a-z][A-Za-z0-9]{0,39}") && !BARRED.contains(name))
        // Names of neighbours differ by more than their case.
        .forEach(name -> byName.putIfAbsent(name.toLowerCase(Locale.ROOT), name));
    names = List.copyOf(byName.values());
    String fields =
        names.stream()
            .map(name -> "  \"" + name + "\": { type: text, length: 1..9 }\n")
            .collect(Collectors.joining());
    Wire.Reply published =
        service
            .wire()
            .publish(
                "names",
                "form: names\naccess: { add: anyone, see: anyone, edit: anyone }\nfields:\n"
                    + fields);
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  @Test
  void thereAreManyOfThem() {
    assertThat(names)
        .hasSizeGreaterThan(250)
        .contains("dataset", "closest", "querySelector", "addEventListener", "toString", "select");
  }

  /** The driver cannot hold a form whose `nodeType` is a control, so the page itself is asked. */
  private static void openBound(String path) {
    browser.open(path);
    browser.until(
        "bound",
        () ->
            Boolean.TRUE.equals(
                browser
                    .driver()
                    .executeScript("return !!document.querySelector('form[data-bound=true]')")));
  }

  /**
   * Types and presses by script: the driver asks elements for members that are controls here, and
   * waits for ever.
   */
  private static void type(List<String> fields, String value) {
    browser
        .driver()
        .executeScript(
            """
            for (const name of arguments[0]) {
              const input = document.getElementById('f-' + name);
              input.value = arguments[1];
              input.dispatchEvent(new Event('input', { bubbles: true }));
              input.dispatchEvent(new FocusEvent('blur'));
            }
            """,
            fields,
            value);
  }

  private static void press() {
    browser
        .driver()
        .executeScript(
            "document.querySelector(\"form.nodley button[type=submit]:not([name^='_'])\").click()");
  }

  private static String textOf(String id) {
    return (String)
        browser
            .driver()
            .executeScript("return document.getElementById(arguments[0]).textContent", id);
  }

  @Test
  void aPageIsBoundJudgesAndSendsWhateverItsFieldsAreCalled() {
    List<String> typed =
        List.of(
            "dataset",
            "closest",
            "querySelector",
            "addEventListener",
            "toString",
            "valueOf",
            "hasOwnProperty",
            "elements",
            "submit",
            "method",
            "parentNode",
            "select",
            "values");
    assertThat(names).containsAll(typed);
    openBound("/forms/names/new");
    type(List.of("dataset"), "far too long");
    browser.until("its error", () -> textOf("f-dataset-error").contains("at most 9"));
    type(typed, "v");
    press();
    browser.until("the record", () -> browser.path().matches("/forms/names/[0-9a-f-]{36}"));
    String id = browser.path().substring("/forms/names/".length());
    assertThat(values(id).propertyNames()).containsExactlyInAnyOrderElementsOf(typed);
    openBound("/forms/names/" + id + "/edit");
    type(List.of("closest", "toString"), "w");
    press();
    browser.until("the edit", () -> values(id).path("closest").asString("").equals("w"));
    assertThat(values(id).path("toString").asString("")).isEqualTo("w");
    assertThat(values(id).path("valueOf").asString("")).isEqualTo("v");
  }

  private static JsonNode values(String id) {
    return service.wire().get("/api/forms/names/records/" + id).json().path("values");
  }
}
