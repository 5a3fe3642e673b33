package nodley.service.draft;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.value.Raw;
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

  private final Encryption encryption;

  DraftValues(Encryption encryption) {
    this.encryption = encryption;
  }

  private interface Change {
    /**
     * Returns what stands in a value's place; empty if it is left out.
     *
     * @param masked true if the field is masked, or something that it is inside of
     */
    Optional<Raw> changed(Field field, Raw raw, boolean masked);
  }

  /**
   * What of some values a caller may know and change: no secrets, and nothing that is hidden from
   * them. Values that no field has stay.
   *
   * @param fields as the caller has them
   */
  static Raw.Members visible(Fields fields, Raw.Members values) {
    return walk(
        fields,
        values,
        false,
        (field, raw, _) -> Optional.of(raw).filter(_ -> !field.isSecret() && !field.isHidden()));
  }

  /** The values as they are kept; what refers to a file stays readable, so that it is kept too. */
  Raw.Members sealed(Fields fields, Raw.Members values) {
    return walk(
        fields,
        values,
        false,
        (field, raw, masked) ->
            Optional.of(raw)
                .filter(_ -> !field.isSecret())
                .map(
                    it ->
                        masked && field.type() != Type.FILE && !holdsOthers(field, it)
                            ? sealed(it)
                            : it));
  }

  /** What is kept, as it was typed, under the names that the fields have now. */
  Raw.Members opened(Fields fields, Raw.Members kept) {
    Map<String, Raw> opened = new LinkedHashMap<>();
    kept.members().forEach((name, raw) -> opened.put(name, opened(raw)));
    return walk(fields, new Raw.Members(opened), false, (_, raw, _) -> Optional.of(raw));
  }

  private static boolean holdsOthers(Field field, Raw raw) {
    return field.type() == Type.GROUP && raw instanceof Raw.Members
        || field.type() == Type.ROWS && raw instanceof Raw.Many;
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
      return JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.STORED).get(VALUE);
    } catch (Unreadable e) {
      return Optional.empty();
    }
  }

  private static Raw.Members walk(Fields fields, Raw.Members here, boolean masked, Change change) {
    Map<String, Raw> walked = new LinkedHashMap<>();
    here.members()
        .forEach(
            (name, raw) -> {
              Field field = field(fields, here, name);
              if (field == null) {
                walked.put(name, raw);
              } else {
                changed(field, raw, masked || field.isMasked(), change)
                    .ifPresent(it -> walked.put(field.name(), it));
              }
            });
    return new Raw.Members(walked);
  }

  private static Optional<Raw> changed(Field field, Raw raw, boolean masked, Change change) {
    Raw inside =
        switch (raw) {
          case Raw.Members members when holdsOthers(field, raw) ->
              walk(field.fields(), members, masked, change);
          case Raw.Many(List<Raw> rows) when holdsOthers(field, raw) -> {
            List<Raw> walked = new ArrayList<>();
            for (Raw row : rows) {
              walked.add(
                  row instanceof Raw.Members members
                      ? walk(field.fields(), members, masked, change)
                      : row);
            }
            yield new Raw.Many(walked);
          }
          default -> raw;
        };
    return change.changed(field, inside, masked);
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
}
