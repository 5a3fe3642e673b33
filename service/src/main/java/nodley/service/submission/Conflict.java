package nodley.service.submission;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Form;
import nodley.core.name.Pointer;
import nodley.core.submission.Differences;
import nodley.core.value.Raw;
import nodley.core.value.Values;

/**
 * A field that two people changed to different values.
 *
 * @param base what that version had; empty if it is not known
 */
public record Conflict(String pointer, Optional<Raw> base, Raw theirs, Raw yours) {

  /**
   * The fields in which two versions differ; secrets, what is not kept and what no page has are
   * left out.
   */
  public static List<Conflict> between(
      Form form, Optional<Raw.Members> base, Values theirs, Values yours) {
    Raw.Members their = Raw.of(form.fields().onPages(theirs));
    Raw.Members your = Raw.of(form.fields().onPages(yours));
    Set<String> silent =
        form.everyField().stream()
            .filter(it -> it.field().isSecret() || !it.field().isKept())
            .map(it -> it.path().stream().reduce(Pointer.ROOT, Pointer::in))
            .collect(Collectors.toSet());
    return Differences.between(their, your).stream()
        .filter(it -> !silent.contains(it.pointer()))
        .map(
            it ->
                new Conflict(
                    it.pointer(),
                    base.map(known -> Differences.at(form.fields().onPages(known), it.pointer())),
                    it.before(),
                    it.after()))
        .toList();
  }

  /** Returns it as the member {@code conflict} of a problem. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("pointer", pointer);
    base.ifPresent(it -> json.put("base", it.toJson()));
    json.put("theirs", theirs.toJson());
    json.put("yours", yours.toJson());
    return json;
  }
}
