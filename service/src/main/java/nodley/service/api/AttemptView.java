package nodley.service.api;

import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Form;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.store.access.Roles;
import nodley.store.attempt.Attempt;
import nodley.store.form.Forms;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Attempts as a caller is told of them: without what concerns fields that they may not see. For one
 * request and one thread.
 */
final class AttemptView {

  private static final JsonMapper JSON = JsonMapper.shared();

  private final Forms forms;
  private final Caller caller;

  /** The paths of the fields that the caller may not see, by form: a list has many attempts. */
  private final Map<String, Set<List<String>>> hidden = new HashMap<>();

  AttemptView(Forms forms, Caller caller) {
    this.forms = forms;
    this.caller = caller;
  }

  /** Returns what lists tell of an attempt. */
  Map<String, Object> brief(Attempt attempt) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("id", attempt.id());
    json.put("form", attempt.form());
    json.put("revision", attempt.revision());
    json.put("mode", attempt.mode());
    json.put("at", Instant.ofEpochMilli(attempt.at()).toString());
    json.put("micros", attempt.micros());
    json.put("verdict", attempt.verdict());
    if (!attempt.problem().isEmpty()) {
      json.put("problem", attempt.problem());
    }
    json.put("errors", known(JSON.readTree(attempt.errors()), hidden(attempt.form())));
    return json;
  }

  /** Returns all that is logged of an attempt. */
  Map<String, Object> full(Attempt attempt) {
    Map<String, Object> json = brief(attempt);
    if (!attempt.record().isEmpty()) {
      json.put("record", attempt.record());
    }
    for (Map.Entry<String, JsonNode> part : JSON.readTree(attempt.account()).properties()) {
      json.put(part.getKey(), part.getValue());
    }
    if (isGone(attempt.form())) {
      // Nobody can tell any more which of its values are for whom.
      json.remove("values");
    }
    if (json.get("values") instanceof JsonNode values) {
      hidden(attempt.form()).forEach(path -> remove(values, path));
    }
    if (attempt.waited() > 0 && json.get("steps") instanceof ArrayNode steps) {
      steps.addObject().put("step", "write").put("micros", attempt.waited());
    }
    return json;
  }

  private boolean isGone(String form) {
    boolean isAdmin = caller instanceof Caller.Known known && known.has(Roles.ADMIN);
    return !isAdmin && forms.find(form).isEmpty();
  }

  private Set<List<String>> hidden(String form) {
    return hidden.computeIfAbsent(form, this::findHidden);
  }

  private Set<List<String>> findHidden(String name) {
    Optional<Form> form = forms.find(name).map(it -> Authorization.seen(it, caller).form());
    return form.filter(it -> !it.fields().areAllKnown()).stream()
        .flatMap(it -> it.everyField().stream())
        .filter(it -> it.field().isHidden())
        .map(Form.Placed::path)
        .collect(Collectors.toSet());
  }

  /** Leaves out errors that stand at a hidden field. */
  private static JsonNode known(JsonNode errors, Set<List<String>> hidden) {
    if (hidden.isEmpty()) {
      return errors;
    }
    ArrayNode known = JSON.createArrayNode();
    for (JsonNode error : errors) {
      // The numbers of rows are no names.
      String path =
          error
              .path("pointer")
              .asString("")
              .replaceFirst("^#/", "")
              .replaceAll("/[0-9]+(?=/|$)", "");
      if (!hidden.contains(List.of(path.split("/")))) {
        known.add(error);
      }
    }
    return known;
  }

  private static void remove(JsonNode tree, List<String> path) {
    if (tree instanceof ArrayNode rows) {
      rows.forEach(row -> remove(row, path));
    } else if (tree instanceof ObjectNode holder) {
      if (path.size() == 1) {
        holder.remove(path.getFirst());
      } else if (holder.has(path.getFirst())) {
        remove(holder.get(path.getFirst()), path.subList(1, path.size()));
      }
    }
  }
}
