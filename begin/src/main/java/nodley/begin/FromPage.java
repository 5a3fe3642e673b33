package nodley.begin;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;

/** A form of an HTML page: its controls, labels and constraints (HTML, section 4.10). */
public final class FromPage {

  private static final Map<String, String> TYPES =
      Map.of(
          "email",
          "email",
          "url",
          "url",
          "tel",
          "phone",
          "password",
          "secret",
          "date",
          "date",
          "time",
          "time",
          "datetime-local",
          "datetime",
          "file",
          "file");

  /** What is filled in before a page is served: no value of its own. */
  private static final Pattern TEMPLATE = Pattern.compile("\\{\\{|\\{%|<%|\\$\\{|#\\{|<\\?(php|=)");

  private final Document page;
  private final Sketch sketch;

  private FromPage(Document page, Sketch sketch) {
    this.page = page;
    this.sketch = sketch;
  }

  /**
   * Begins a form from a form of a page.
   *
   * @param which its id, or its number from 1 up; empty for the one with the most controls that
   *     have a name
   * @throws BadSource if there is none, or nothing in it
   */
  public static Sketch read(String form, SourceFile file, Optional<String> which) throws BadSource {
    Document page;
    try {
      page = Jsoup.parse(new ByteArrayInputStream(file.bytes()), null, "");
    } catch (IOException e) {
      throw new BadSource("The file " + file.name() + " cannot be read as HTML.");
    }
    List<Element> forms = page.select("form");
    Sketch sketch = new Sketch(form, "the form of " + file.lastName());
    if (forms.isEmpty() && page.select("input, select, textarea").isEmpty()) {
      throw new BadSource("There is no form in " + file.name() + ".");
    }
    if (forms.isEmpty()) {
      forms = List.of(page.body());
      sketch.say("The page has no form element; these are all its controls.");
    }
    Element chosen = which.isPresent() ? chosen(forms, which.get(), file) : largest(forms);
    if (forms.size() > 1 && which.isEmpty()) {
      sketch.say(
          forms.size()
              + " forms are there; this is the one with the most controls, number "
              + (forms.indexOf(chosen) + 1)
              + ". --form-number takes another.");
    }
    new FromPage(page, sketch).read(chosen);
    if (sketch.fields.byName.isEmpty()) {
      throw new BadSource(why(chosen, forms, file));
    }
    return sketch;
  }

  private static Element largest(List<Element> forms) {
    return forms.stream().max(Comparator.comparingInt(it -> fields(it).size())).orElseThrow();
  }

  private static Element chosen(List<Element> forms, String which, SourceFile file)
      throws BadSource {
    int number = which.matches("[0-9]{1,4}") ? Integer.parseInt(which) : 0;
    for (int i = 0; i < forms.size(); i++) {
      if (number == i + 1 || number == 0 && forms.get(i).id().equals(which)) {
        return forms.get(i);
      }
    }
    throw new BadSource(
        "There is no form "
            + which
            + " in "
            + file.name()
            + "; it has "
            + IntStream.range(0, forms.size())
                .mapToObj(
                    i ->
                        i + 1 + (forms.get(i).id().isEmpty() ? "" : " (" + forms.get(i).id() + ")"))
                .collect(Collectors.joining(", "))
            + ".");
  }

  private static String why(Element form, List<Element> forms, SourceFile file) {
    int controls = form.select("input, select, textarea").size();
    int others = (int) forms.stream().filter(it -> !fields(it).isEmpty()).count();
    String there =
        controls == 0
            ? "has no controls"
            : "has " + controls + " controls, but none with a name or an id that holds a value";
    return "The form of %s %s.".formatted(file.name(), there)
        + (others == 0 ? "" : " Others have; --form-number takes one.");
  }

  /** The controls of a form that can be fields, by what they are called. */
  private static Map<String, List<Element>> fields(Element form) {
    Map<String, List<Element>> byName = new LinkedHashMap<>();
    for (Element control : form.select("input, select, textarea")) {
      String name = name(control);
      if (!name.isEmpty() && !type(control).matches("hidden|submit|button|reset|image")) {
        byName.computeIfAbsent(name, _ -> new ArrayList<>()).add(control);
      }
    }
    return byName;
  }

  /** The name that it is sent under; its id, where a script sends it. */
  private static String name(Element control) {
    return control.attr("name").isBlank() ? control.id().strip() : control.attr("name").strip();
  }

  /** Controls of one name, such as radio buttons, are one field. */
  private void read(Element form) {
    int nameless = 0;
    for (Element control : form.select("input, select, textarea")) {
      String type = type(control);
      if (type.equals("hidden")) {
        sketch.say("The hidden input " + name(control) + " is left out.");
      } else if (name(control).isEmpty() && !type.matches("submit|button|reset|image")) {
        nameless++;
      }
    }
    if (nameless > 0) {
      sketch.say(
          nameless
              + (nameless == 1 ? " control" : " controls")
              + " without a name and without an id: left out.");
    }
    fields(form).forEach(this::field);
  }

  private static String type(Element control) {
    return control.tagName().equals("input")
        ? control.attr("type").toLowerCase(java.util.Locale.ROOT)
        : control.tagName();
  }

  private void field(String name, List<Element> controls) {
    FieldSketch field = sketch.fields.add(name);
    Element first = controls.getFirst();
    if (first.attr("name").isBlank()) {
      field.say("There it has no name; this is its id.");
    }
    String type = type(first);
    switch (type) {
      case "select" -> select(field, first);
      case "textarea" -> field.put("multiline", true);
      case "radio" -> choices(field.type("choice"), controls);
      case "checkbox" -> {
        if (controls.size() > 1) {
          choices(field.type("choices"), controls);
        } else {
          field.type("boolean");
        }
      }
      case "number", "range" -> number(field, first);
      case "month", "week", "color" -> field.say("There it is an input of type " + type + ".");
      default -> field.type(TYPES.getOrDefault(type, "text"));
    }
    boolean single = controls.size() == 1 || type.equals("radio");
    String label = single && !type.equals("radio") ? label(first) : legend(first);
    if (!label.isEmpty()) {
      field.put("label", label);
    }
    String help = help(first);
    if (!help.isEmpty() && controls.size() == 1) {
      field.put("help", help);
    }
    if (controls.stream().anyMatch(it -> it.hasAttr("required"))) {
      field.put("required", true);
    }
    limits(field, first);
    first(field, controls, type);
  }

  private void select(FieldSketch field, Element select) {
    Map<String, String> options = new LinkedHashMap<>();
    for (Element option : select.select("option")) {
      String value = option.hasAttr("value") ? option.attr("value") : option.text();
      if (!value.isBlank()) {
        options.put(value.strip(), option.text());
      }
    }
    field.type(select.hasAttr("multiple") ? "choices" : "choice").put("options", options);
    if (options.isEmpty()) {
      field.type("text").say("There it is a select without options.").keys.remove("options");
    }
  }

  private void choices(FieldSketch field, List<Element> controls) {
    int unvalued = 0;
    Map<String, String> options = new LinkedHashMap<>();
    for (Element control : controls) {
      String label = label(control);
      // Without values all of them send "on", and only their labels tell them apart.
      boolean own = control.hasAttr("value") && !control.attr("value").equals("on");
      String value = own ? control.attr("value") : label.isEmpty() ? control.id() : label;
      if (!own && !label.isEmpty()) {
        unvalued++;
      }
      if (!value.isBlank()) {
        options.put(value.strip(), label.isEmpty() ? value.strip() : label);
      }
    }
    if (unvalued > 0) {
      field.say("There they have no values of their own; these are their labels.");
    }
    field.put("options", options);
  }

  /** Without a step an input of type number takes whole numbers. */
  private static void number(FieldSketch field, Element input) {
    String step = input.attr("step");
    boolean whole = step.isEmpty() || step.matches("[0-9]+");
    field.type(whole ? "integer" : "decimal");
    if (!step.isEmpty() && !step.equalsIgnoreCase("any") && !step.equals("1")) {
      field.put("step", step);
    }
  }

  private void limits(FieldSketch field, Element control) {
    String type = field.type();
    if (type.matches("integer|decimal|date|time")) {
      field.span("range", attribute(control, "min"), attribute(control, "max"));
    }
    if (type.matches("text|email|url|secret")) {
      field.span("length", attribute(control, "minlength"), attribute(control, "maxlength"));
    }
    if (type.matches("text|email|url|phone|secret") && control.hasAttr("pattern")) {
      field.put("pattern", control.attr("pattern"));
    }
    if (type.matches("text|email|url|phone|integer|decimal") && control.hasAttr("placeholder")) {
      field.put("placeholder", control.attr("placeholder"));
    }
    if (type.equals("file") && control.hasAttr("accept")) {
      field.put("accept", List.of(control.attr("accept").strip().split("\\s*,\\s*")));
    }
    if (control.hasAttr("readonly") || control.hasAttr("disabled")) {
      field.put("editable", false);
    }
    Element list = control.hasAttr("list") ? page.getElementById(control.attr("list")) : null;
    if (list != null && type.equals("text")) {
      List<String> offers =
          list.select("option").stream()
              .map(it -> it.hasAttr("value") ? it.attr("value") : it.text())
              .filter(it -> !it.isBlank())
              .toList();
      if (!offers.isEmpty()) {
        field.put("options", offers);
      }
    }
  }

  private static String attribute(Element control, String name) {
    return control.attr(name).isBlank() ? null : control.attr(name).strip();
  }

  private static void first(FieldSketch field, List<Element> controls, String type) {
    List<String> chosen =
        controls.stream().filter(it -> it.hasAttr("checked")).map(it -> it.attr("value")).toList();
    switch (field.type()) {
      case "boolean" -> {
        if (!chosen.isEmpty()) {
          field.put("default", true);
        }
      }
      case "choice", "choices" -> {
        List<String> picked =
            type.equals("select")
                ? controls.getFirst().select("option[selected]").stream()
                    .map(it -> it.attr("value"))
                    .filter(it -> !it.isBlank())
                    .toList()
                : chosen;
        if (!picked.isEmpty()) {
          field.put("default", field.type().equals("choice") ? picked.getFirst() : picked);
        }
      }
      case "secret", "file" -> {
        // What stands in them is no first value.
      }
      default -> {
        Element control = controls.getFirst();
        String value = type.equals("textarea") ? control.wholeText() : control.attr("value");
        if (TEMPLATE.matcher(value).find()) {
          field.say("Its first value there is filled in by a template.");
        } else if (!value.isBlank()) {
          field.put("default", value.strip());
        }
      }
    }
  }

  /** The label that points at the control, or the one around it without the control's own text. */
  private String label(Element control) {
    if (!control.id().isEmpty()) {
      Element label =
          page.select("label[for]").stream()
              .filter(it -> it.attr("for").equals(control.id()))
              .findFirst()
              .orElse(null);
      if (label != null) {
        return clean(label.text());
      }
    }
    Element around = control.closest("label");
    if (around != null) {
      Element copy = around.clone();
      copy.select("input, select, textarea").remove();
      return clean(copy.text());
    }
    return clean(control.attr("aria-label"));
  }

  /** What stands above a set of buttons. */
  private static String legend(Element control) {
    Element set = control.closest("fieldset");
    Element legend = set == null ? null : set.selectFirst("legend");
    return legend == null ? "" : clean(legend.text());
  }

  private String help(Element control) {
    return java.util.Arrays.stream(control.attr("aria-describedby").strip().split("\\s+"))
        .filter(id -> !id.isEmpty())
        .map(page::getElementById)
        .filter(it -> it != null)
        .map(Element::text)
        .collect(Collectors.joining(" "));
  }

  /** Without the mark that says that it is required. */
  private static String clean(String label) {
    return label.replaceAll("[\\s*:]+$", "").strip();
  }
}
