package nodley.service.draft;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.value.Raw;
import nodley.core.value.Values;
import nodley.service.problem.Json;
import nodley.store.access.Encryption;

/**
 * The values of a draft on their way to the store and back. A secret never gets there; what is
 * masked is encrypted there; what a caller may not see is neither told nor changed. A value under
 * the name that its field had before is the field's. Thread-safe.
 */
final class DraftValues {

  private static final String ENCRYPTED = "encrypted:";
  private static final String VALUE = "value";

  /** What was taken once is read again. */
  private static final InputLimits ANY = new InputLimits(500, Integer.MAX_VALUE);

  private final Encryption encryption;

  DraftValues(Encryption encryption) {
    this.encryption = encryption;
  }

  private interface Change {
    /** Returns what stands in a value's place; empty if it is left out. */
    Optional<Raw> changed(Field field, Raw raw);
  }

  /**
   * What of some values a caller may know and change: no secrets, and nothing that is hidden from
   * them.
   *
   * @param fields as the caller has them
   * @param unknown is told the dotted path of each value that no field has; these stay
   */
  static Raw.Members visible(Fields fields, Raw.Members values, Consumer<String> unknown) {
    return walk(
        fields,
        "",
        values,
        (field, raw) -> Optional.of(raw).filter(_ -> !field.isSecret() && !field.isHidden()),
        unknown);
  }

  /** The values as they are kept. */
  Raw.Members sealed(Fields fields, Raw.Members values) {
    return walk(
        fields,
        "",
        values,
        (field, raw) ->
            Optional.of(raw)
                .filter(_ -> !field.isSecret())
                .map(it -> field.isMasked() && field.type() != Type.FILE ? sealed(it) : it),
        _ -> {});
  }

  /** What is kept, as it was typed, under the names that the fields have now. */
  Raw.Members opened(Fields fields, Raw.Members kept) {
    Map<String, Raw> opened = new LinkedHashMap<>();
    kept.members().forEach((name, raw) -> opened.put(name, opened(raw)));
    return walk(fields, "", new Raw.Members(opened), (_, raw) -> Optional.of(raw), _ -> {});
  }

  private Raw sealed(Raw raw) {
    if (raw.isBlank()) {
      return raw;
    }
    byte[] json = Json.bytes(new Raw.Members(Map.of(VALUE, raw)).toJson());
    return new Raw.Text(ENCRYPTED + encryption.encrypt(new String(json, StandardCharsets.UTF_8)));
  }

  private Raw opened(Raw raw) {
    return switch (raw) {
      case Raw.Text(String text) when text.startsWith(ENCRYPTED) ->
          encryption
              .decrypt(text.substring(ENCRYPTED.length()))
              .flatMap(DraftValues::parsed)
              .orElse(raw);
      case Raw.Many(List<Raw> items) -> new Raw.Many(items.stream().map(this::opened).toList());
      case Raw.Members(Map<String, Raw> members) -> {
        Map<String, Raw> opened = new LinkedHashMap<>();
        members.forEach((name, inner) -> opened.put(name, opened(inner)));
        yield new Raw.Members(opened);
      }
      default -> raw;
    };
  }

  private static Optional<Raw> parsed(String json) {
    try {
      return JsonInput.read(json.getBytes(StandardCharsets.UTF_8), ANY).get(VALUE);
    } catch (Unreadable e) {
      return Optional.empty();
    }
  }

  private static Raw.Members walk(
      Fields fields, String outer, Raw.Members here, Change change, Consumer<String> unknown) {
    Map<String, Raw> walked = new LinkedHashMap<>();
    here.members()
        .forEach(
            (name, raw) -> {
              Field field = field(fields, here, name);
              if (field != null) {
                changed(field, outer + field.name(), raw, change, unknown)
                    .ifPresent(it -> walked.put(field.name(), it));
              } else if (name.equals(Values.ROW)) {
                walked.put(name, raw);
              } else if (!name.startsWith("_")) {
                // A page's own inputs begin with an underscore, which no field's name does.
                unknown.accept(outer + name);
                walked.put(name, raw);
              }
            });
    return new Raw.Members(walked);
  }

  /** The field of a name, or that had this name before and has no value under its own. */
  private static Field field(Fields fields, Raw.Members here, String name) {
    return fields
        .find(name)
        .or(
            () ->
                fields.stream()
                    .filter(it -> it.source().was().filter(name::equals).isPresent())
                    .filter(it -> !here.members().containsKey(it.name()))
                    .findFirst())
        .orElse(null);
  }

  private static Optional<Raw> changed(
      Field field, String path, Raw raw, Change change, Consumer<String> unknown) {
    Raw inside =
        switch (raw) {
          case Raw.Members members when field.type() == Type.GROUP ->
              walk(field.fields(), path + ".", members, change, unknown);
          case Raw.Many(List<Raw> rows) when field.type() == Type.ROWS -> {
            List<Raw> walked = new ArrayList<>();
            for (Raw row : rows) {
              walked.add(
                  row instanceof Raw.Members members
                      ? walk(field.fields(), path + ".", members, change, unknown)
                      : row);
            }
            yield new Raw.Many(walked);
          }
          default -> raw;
        };
    return change.changed(field, inside);
  }
}
