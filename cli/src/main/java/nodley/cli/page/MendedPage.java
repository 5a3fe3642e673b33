package nodley.cli.page;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Set;
import java.util.TreeMap;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;
import org.jsoup.nodes.Range;
import org.jsoup.parser.Parser;
import tools.jackson.databind.JsonNode;

/**
 * Puts into an HTML page what binds its form: attributes, the script, places for errors. All else
 * stays byte for byte as it was.
 */
public final class MendedPage {

  /** What is put in, by the byte that it goes before. */
  private final NavigableMap<Integer, StringBuilder> insertions = new TreeMap<>();

  private int count;

  private MendedPage() {}

  /**
   * Mends a file in its place.
   *
   * @param service where the service is, such as {@code https://forms.example}
   * @param form the form's description, as the service gives it
   * @return how many things were put in; 0 if the file was left as it is
   * @throws HeldPage.BadPage if it is not there, cannot be written, or has no form
   */
  public static int mend(Path file, String service, JsonNode form) {
    try {
      // A character for each byte, so that places in the text are places in the file.
      String text = Files.readString(file, StandardCharsets.ISO_8859_1);
      if (text.startsWith("\u00FF\u00FE") || text.startsWith("\u00FE\u00FF")) {
        throw new HeldPage.BadPage("The page " + file + " is in UTF-16: write it in UTF-8.");
      }
      MendedPage page = new MendedPage();
      page.look(
          Jsoup.parse(text, "", Parser.htmlParser().setTrackPosition(true)), file, service, form);
      if (page.count > 0) {
        Files.writeString(file, page.applied(text), StandardCharsets.ISO_8859_1);
      }
      return page.count;
    } catch (IOException e) {
      throw new HeldPage.BadPage("The page " + file + " is not there, or cannot be written.");
    }
  }

  private void look(Document document, Path file, String service, JsonNode form) {
    String name = form.path("form").asString();
    Element found = HeldPage.likely(document, file.toString(), form);
    String attributes = "";
    if (!found.attr("data-nodley").equals(name) && !found.hasAttr("data-nodley")) {
      attributes += " data-nodley=\"" + name + "\"";
    }
    if (!found.hasAttr("method")) {
      attributes += " method=\"post\"";
    }
    if (!found.hasAttr("action")) {
      attributes += " action=\"" + service + "/forms/" + name + "/new\"";
    }
    if (!attributes.isEmpty()) {
      put(found.sourceRange().endPos() - 1, attributes);
    }
    Set<String> seen = new LinkedHashSet<>();
    HeldPage.controls(found)
        .forEach(
            (at, controls) -> {
              boolean has = !found.select("[data-error=\"" + at + "\"]").isEmpty();
              if (!has && HeldPage.field(form, at) != null && seen.add(at)) {
                put(end(controls.getLast()), "<span data-error=\"" + at + "\"></span>");
              }
            });
    if (document.select("script[src$=/page/nodley.js]").isEmpty()) {
      put(end(found), "\n<script type=\"module\" src=\"" + service + "/page/nodley.js\"></script>");
    }
  }

  /** Where an element ends, or the label around it. */
  private static int end(Element element) {
    Element label = element.closest("label");
    Element outer = label == null ? element : label;
    Range end = outer.endSourceRange();
    return end.isTracked() && end.endPos() > 0 ? end.endPos() : outer.sourceRange().endPos();
  }

  private void put(int at, String text) {
    insertions.computeIfAbsent(at, _ -> new StringBuilder()).append(text);
    count++;
  }

  private String applied(String text) {
    var mended = new StringBuilder(text);
    for (Map.Entry<Integer, StringBuilder> one : insertions.descendingMap().entrySet()) {
      mended.insert(one.getKey(), one.getValue());
    }
    return mended.toString();
  }
}
