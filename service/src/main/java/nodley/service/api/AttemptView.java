package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.time.Instant;
import java.util.HashMap;
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
import nodley.store.delivery.Delivery;
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

  /**
   * What lists tell of an attempt.
   *
   * @param at when it came: RFC 3339, UTC
   * @param micros how long it took, in microseconds
   * @param problem left out if it was accepted
   */
  record Brief(
      String id,
      String form,
      int revision,
      String mode,
      String at,
      long micros,
      String verdict,
      Optional<String> problem,
      JsonNode errors) {}

  /**
   * All that is logged of an attempt. What was forgotten since, or is not for the caller, is left
   * out.
   *
   * @param record the id of the record that was added or edited
   * @param from the address that it came from
   * @param by who sent it; empty if nobody is known
   * @param detail of a problem that is no refusal
   * @param leftOut how many values were too much for the log
   * @param deliveries those that it has caused
   */
  record Full(
      @JsonUnwrapped Brief brief,
      Optional<String> record,
      Optional<JsonNode> from,
      Optional<JsonNode> by,
      Optional<JsonNode> door,
      Optional<JsonNode> detail,
      Optional<JsonNode> values,
      Optional<JsonNode> leftOut,
      Optional<JsonNode> steps,
      List<Caused> deliveries) {}

  /** A delivery that an attempt has caused. */
  record Caused(String id, String outlet, String state) {
    static Caused of(Delivery delivery) {
      return new Caused(delivery.id(), delivery.outlet(), delivery.state().word());
    }
  }

  /** Returns what lists tell of an attempt. */
  Brief brief(Attempt attempt) {
    return new Brief(
        attempt.id(),
        attempt.form(),
        attempt.revision(),
        attempt.mode(),
        Instant.ofEpochMilli(attempt.at()).toString(),
        attempt.micros(),
        attempt.verdict(),
        Optional.of(attempt.problem()).filter(it -> !it.isEmpty()),
        known(JSON.readTree(attempt.errors()), hidden(attempt.form())));
  }

  /** Returns all that is logged of an attempt. */
  Full full(Attempt attempt, List<Delivery> caused) {
    JsonNode account = JSON.readTree(attempt.account());
    // Of a form that is gone nobody can tell any more which values are for whom.
    Optional<JsonNode> values =
        isGone(attempt.form()) ? Optional.empty() : account.optional("values");
    values.ifPresent(it -> hidden(attempt.form()).forEach(path -> remove(it, path)));
    if (attempt.waited() > 0 && account.get("steps") instanceof ArrayNode steps) {
      steps.addObject().put("step", "write").put("micros", attempt.waited());
    }
    return new Full(
        brief(attempt),
        Optional.of(attempt.record()).filter(it -> !it.isEmpty()),
        account.optional("from"),
        account.optional("by"),
        account.optional("door"),
        account.optional("detail"),
        values,
        account.optional("leftOut"),
        account.optional("steps"),
        caused.stream().map(Caused::of).toList());
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

  /** True for a field that the caller may not see, by its dotted path without places of rows. */
  boolean isHidden(String form, String field) {
    return hidden(form).contains(List.of(field.split("\\.")));
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
