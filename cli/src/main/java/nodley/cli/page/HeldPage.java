package nodley.cli.page;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import nodley.core.name.Near;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;
import org.jsoup.parser.Parser;
import tools.jackson.databind.JsonNode;

/** An HTML page held against a form. */
public final class HeldPage {

  private static final int PATIENCE_MILLIS = 10_000;

  /** One thing that is wrong with the page. */
  public record Finding(int line, String control, String detail) {
    public Map<String, Object> toJson() {
      Map<String, Object> json = new LinkedHashMap<>();
      json.put("line", line);
      json.put("control", control);
      json.put("detail", detail);
      return json;
    }
  }

  /** The page is not there, or has no form. */
  public static final class BadPage extends RuntimeException {
    private static final long serialVersionUID = 1;

    BadPage(String message) {
      super(message);
    }
  }

  private final String page;
  private final String name;
  private final List<Finding> findings = new ArrayList<>();

  private HeldPage(String page, String name) {
    this.page = page;
    this.name = name;
  }

  /**
   * What is wrong with a page, by its lines.
   *
   * @param page a file, or an http(s) address
   * @param form the form's description, as the service gives it
   * @throws BadPage if the page is not there, or has no form
   */
  public static List<Finding> findings(String page, JsonNode form) {
    HeldPage held = new HeldPage(page, form.path("form").asString());
    Document document = held.document();
    held.hold(held.form(document, form), form);
    if (document.select("script[src$=/page/nodley.js]").isEmpty()) {
      held.find(
          document.head(),
          "",
          "The script is not there: <script type=\"module\" src=\"…/page/nodley.js\"> binds the"
              + " form to its rules.");
    }
    held.findings.sort(Comparator.comparingInt(Finding::line));
    return List.copyOf(held.findings);
  }

  private Document document() {
    Parser parser = Parser.htmlParser().setTrackPosition(true);
    try {
      return page.matches("https?://.*")
          ? Jsoup.connect(page).timeout(PATIENCE_MILLIS).parser(parser).get()
          : Jsoup.parse(Files.newInputStream(Path.of(page)), null, "", parser);
    } catch (IOException e) {
      throw new BadPage("The page " + page + " is not there, or cannot be read.");
    }
  }

  /** The form that says that it is this one; else the one that shares most names with it. */
  private Element form(Document document, JsonNode form) {
    Optional<Element> marked =
        document.select("form[data-nodley]").stream()
            .filter(it -> it.attr("data-nodley").equals(name))
            .findFirst();
    if (marked.isPresent()) {
      return marked.get();
    }
    Element likely = likely(document, page, form);
    String said = likely.attr("data-nodley");
    find(
        likely,
        "",
        said.isEmpty()
            ? "The form is not bound: <form data-nodley=\"" + name + "\"> binds it."
            : "The form is bound to \""
                + said
                + "\": data-nodley=\""
                + name
                + "\" is asked about.");
    return likely;
  }

  /** The form of a page that is said to be this one, or shares most names with it. */
  static Element likely(Document document, String page, JsonNode form) {
    String name = form.path("form").asString();
    return document.select("form").stream()
        .max(
            Comparator.comparingLong(
                it ->
                    it.attr("data-nodley").equals(name)
                        ? Long.MAX_VALUE
                        : controls(it).keySet().stream()
                            .filter(at -> field(form, at) != null)
                            .count()))
        .orElseThrow(() -> new BadPage("There is no form in " + page + "."));
  }

  /** The controls of a form that are sent, by their names. */
  static Map<String, List<Element>> controls(Element form) {
    Map<String, List<Element>> controls = new LinkedHashMap<>();
    for (Element control : form.select("input, select, textarea")) {
      String at = control.attr("name");
      if (!at.isEmpty()
          && !at.startsWith("_")
          && !control.attr("type").matches("(?i)submit|button|reset|image")) {
        controls.computeIfAbsent(at, _ -> new ArrayList<>()).add(control);
      }
    }
    return controls;
  }

  private void hold(Element found, JsonNode form) {
    if (!found.attr("method").equalsIgnoreCase("post")) {
      find(
          found,
          "",
          "Without script it is sent by GET, with all values in the address: say method=\"post\".");
    }
    if (found.attr("enctype").equalsIgnoreCase("text/plain")) {
      find(found, "", "enctype=\"text/plain\" cannot be read: leave it out.");
    }
    Map<String, List<Element>> controls = controls(found);
    controls.forEach((at, elements) -> hold(at, elements, form));
    for (String attribute : List.of("data-error", "data-state", "data-field", "data-clear")) {
      for (Element element : found.select("[" + attribute + "]")) {
        for (String at : element.attr(attribute).split(" ")) {
          boolean word = attribute.equals("data-clear") && at.matches("all|none");
          if (!at.isEmpty() && !word && field(form, at) == null) {
            find(element, at, attribute + " names " + noField(at, form));
          }
        }
      }
    }
    TreeSet<String> tops = new TreeSet<>();
    controls.keySet().forEach(it -> tops.add(it.split("[.\\[]")[0]));
    for (JsonNode field : form.path("fields")) {
      String top = field.path("name").asString();
      boolean needed =
          field.path("required").asBoolean(false)
              && !field.has("compute")
              && !field.has("default")
              && !field.has("defaultTo");
      if (needed && !tops.contains(top)) {
        find(
            found,
            top,
            "\""
                + top
                + "\" must be filled in, and the page has no control for it: add one named \""
                + top
                + "\".");
      }
    }
  }

  private void hold(String at, List<Element> elements, JsonNode form) {
    Element first = elements.getFirst();
    JsonNode field = field(form, at);
    if (field == null) {
      find(first, at, "The form has no field \"" + at + "\"." + near(at, form));
      return;
    }
    if (first.hasAttr("maxlength")) {
      find(
          first,
          at,
          "maxlength on \""
              + at
              + "\" cuts silently, and counts otherwise than the form does: leave it out.");
    }
    TreeSet<String> offered = new TreeSet<>();
    field.path("options").forEach(it -> offered.add(it.path("value").asString()));
    if (offered.isEmpty() || field.path("type").asString().equals("text")) {
      return;
    }
    for (Element element : elements) {
      for (Element option :
          element.tagName().equals("select") ? element.select("option") : List.of(element)) {
        String value = option.hasAttr("value") ? option.attr("value") : option.text();
        boolean chooses =
            element.tagName().equals("select")
                || element.attr("type").matches("(?i)radio|checkbox");
        if (chooses && !value.isEmpty() && !offered.contains(value)) {
          find(
              option,
              at,
              "\""
                  + value
                  + "\" is no option of \""
                  + at
                  + "\"."
                  + Near.to(value, offered)
                      .map(it -> " Did you mean \"" + it + "\"?")
                      .orElse(" It has " + String.join(", ", offered) + "."));
        }
      }
    }
  }

  private static String noField(String at, JsonNode form) {
    return "\"" + at + "\", and the form has no such field." + near(at, form);
  }

  private static String near(String at, JsonNode form) {
    TreeSet<String> known = new TreeSet<>();
    names(form.path("fields"), "", known);
    return Near.to(at, known)
        .map(it -> " Did you mean \"" + it + "\"?")
        .orElse(" It has " + String.join(", ", known) + ".");
  }

  /** The field of a name as pages write it, {@code crew[0].name}; null if there is none. */
  static JsonNode field(JsonNode form, String at) {
    JsonNode here = form;
    for (String step : at.replaceAll("\\[\\d*]", "").split("\\.")) {
      JsonNode inside = null;
      for (JsonNode field : here.path("fields")) {
        if (field.path("name").asString().equals(step)) {
          inside = field;
        }
      }
      if (inside == null) {
        return null;
      }
      here = inside;
    }
    return here;
  }

  private static void names(JsonNode fields, String prefix, Set<String> names) {
    for (JsonNode field : fields) {
      String own = prefix + field.path("name").asString();
      if (field.has("fields")) {
        String rows = field.path("type").asString().equals("rows") ? "[0]." : ".";
        names(field.path("fields"), own + rows, names);
      } else {
        names.add(own);
      }
    }
  }

  private void find(Element element, String control, String detail) {
    findings.add(new Finding(element.sourceRange().start().lineNumber(), control, detail));
  }
}
