package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.Expression;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Rule;
import nodley.core.form.Sentence;
import nodley.core.form.Type;

/**
 * Reads the rules over several fields: {@code {must, at, say}}, or a shared part with its
 * arguments. Names of fields are resolved and types checked here, so that evaluating a rule cannot
 * fail.
 */
record RuleReader(Section keys, ReaderContext reach, SymbolTable names) {

  List<Rule> read() {
    List<Rule> rules = new ArrayList<>();
    int index = 0;
    for (Node item : keys.items("rules").orElse(List.of())) {
      Section.of(item, keys.pointer("rules") + "/" + index++, "A rule", reach.errors())
          .flatMap(this::rule)
          .ifPresent(rules::add);
    }
    return rules;
  }

  private Optional<Rule> rule(Section rule) {
    List<String> at = rule.text("at").map(path -> at(rule, path)).orElse(List.of());
    if (rule.has("use")) {
      rule.allow(FormKeys.RULE_OF_PART);
      return used(rule, at);
    }
    Optional<Sentence> say = say(rule, reach.root());
    rule.allow(FormKeys.RULE);
    if (!rule.has("must")) {
      rule.missing("A rule says what `must` hold: { must: departs > arrives, at: departs }.");
      return Optional.empty();
    }
    return new Expressions(rule, reach.errors(), names)
        .of("must", ExpressionType.of(ExpressionType.Base.BOOLEAN))
        .map(must -> new Rule(must, at, say, Map.of()));
  }

  private Optional<Sentence> say(Section rule, Names told) {
    return new SayReader(rule, reach.errors(), told).sentence("say");
  }

  /** The path of a field side by side with the rule, or in a group there. */
  private List<String> at(Section rule, String path) {
    List<String> parts = Arrays.asList(path.split("\\.", -1));
    SymbolTable here = names;
    for (int i = 0; i < parts.size(); i++) {
      Type type = here.type(parts.get(i)).orElse(null);
      boolean last = i == parts.size() - 1;
      if (type == null) {
        rule.unknown("at", "field", parts.get(i), here.all());
        return List.of();
      }
      if (!last && type != Type.GROUP) {
        rule.bad(
            "at",
            "bad-value",
            "`at` names a field of the form or of a group; a rule for each row stands in its"
                + " field's own `rules`.");
        return List.of();
      }
      if (last && here.find(parts.get(i)).filter(it -> !it.onPages()).isPresent()) {
        rule.bad("at", "bad-value", "No page has `" + path + "`: its `control` is none.");
      }
      here = last ? here : here.inside(parts.get(i));
    }
    return parts;
  }

  private Optional<Rule> used(Section rule, List<String> at) {
    String name = rule.text("use").orElse("");
    FormRegistry registry = reach.registry();
    Optional<PartFile> part = registry.part(name);
    if (part.isEmpty()) {
      rule.unpublished("use", "part", name, registry.shared().parts().keySet());
      return Optional.empty();
    }
    if (part.get().rule().isEmpty()) {
      String fields = "The part `" + name + "` is a set of fields, not a rule.";
      rule.bad("use", "unknown-name", fields);
      return Optional.empty();
    }
    PartFile.RulePart body = part.get().rule().get();
    Optional<Sentence> say =
        say(rule, new ExpressionTypeNames(body.takes(), Optional.of(reach.root())));
    Map<String, Expression> given = new LinkedHashMap<>();
    Section with = rule.section("with").orElse(null);
    if (with != null) {
      with.allow("`with` of part `" + name + "`", body.takes().keySet());
      Names reachable = names;
      body.takes()
          .forEach(
              (parameter, kind) ->
                  new Expressions(with, reach.errors(), reachable)
                      .of(parameter, kind)
                      .ifPresent(it -> given.put(parameter, it)));
    }
    for (String parameter : body.takes().keySet()) {
      if (with == null || !with.has(parameter)) {
        rule.missing(
            "The part `" + name + "` takes `" + parameter + "`: with: { " + parameter + ": … }.");
      }
    }
    if (given.size() < body.takes().size()) {
      return Optional.empty();
    }
    return PartFile.must(body, given, reach.errors(), rule.place(), rule.pointer("use"))
        .map(must -> new Rule(must, at, say.or(body::say), given));
  }
}
