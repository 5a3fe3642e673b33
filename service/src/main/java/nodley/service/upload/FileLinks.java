package nodley.service.upload;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.value.FileRef;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Where the files of a record are: {@code /api/forms/FORM/records/ID/files/FIELD/N}. A field within
 * groups and rows is named with its rows, from 0 up: {@code crew.0.passport}. Stateless.
 */
public final class FileLinks {

  private FileLinks() {}

  /** Returns the address of one file of a record. */
  public static String href(String form, String record, String place, int number) {
    return "/api/forms/" + form + "/records/" + record + "/files/" + place + "/" + number;
  }

  /** Returns what is written as JSON of a record's values: each file has its {@code href}. */
  public static Object json(Form form, String record, Values values) {
    return form.fields().hasFiles() ? tree(form, record, values) : values;
  }

  /** Returns the same as a tree of which parts can be taken. */
  public static Map<String, Object> tree(Form form, String record, Values values) {
    return json(form.fields(), values, "/api/forms/" + form.name() + "/records/" + record, "");
  }

  private static Map<String, Object> json(
      Fields fields, Values values, String record, String outer) {
    Map<String, Object> json = values.toJson();
    for (Field field : fields) {
      String place = outer + field.name();
      switch (values.get(field.name())) {
        case Value.Group(Values inside) ->
            json.put(field.name(), json(field.fields(), inside, record, place + "."));
        case Value.Rows(List<Values> rows) -> {
          List<Object> all = new ArrayList<>();
          for (int i = 0; i < rows.size(); i++) {
            all.add(json(field.fields(), rows.get(i), record, place + "." + i + "."));
          }
          json.put(field.name(), all);
        }
        case Value.Files(List<FileRef> files, boolean many) -> {
          List<Object> all = new ArrayList<>();
          for (int i = 0; i < files.size(); i++) {
            all.add(json(files.get(i), record + "/files/" + place + "/" + i));
          }
          json.put(field.name(), many ? all : all.getFirst());
        }
        default -> {
          // It has no files.
        }
      }
    }
    return json;
  }

  private static Map<String, Object> json(FileRef file, String href) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("name", file.name());
    json.put("type", file.type());
    json.put("size", file.size());
    json.put("sha256", file.sha256());
    json.put("href", href);
    return json;
  }

  /**
   * Finds a file in the values of a record.
   *
   * @param place as in an address
   */
  public static Optional<FileRef> find(Form form, Values values, String place, int number) {
    return find(form.fields(), values, List.of(place.split("\\.", -1)), number);
  }

  private static Optional<FileRef> find(
      Fields fields, Values values, List<String> names, int number) {
    Field field = fields.find(names.getFirst()).filter(it -> !it.isHidden()).orElse(null);
    if (field == null) {
      return Optional.empty();
    }
    List<String> inside = names.subList(1, names.size());
    return switch (values.get(field.name())) {
      case Value.Files(List<FileRef> files, boolean _)
          when inside.isEmpty() && number < files.size() ->
          Optional.of(files.get(number));
      case Value.Group(Values group) when !inside.isEmpty() ->
          find(field.fields(), group, inside, number);
      case Value.Rows(List<Values> rows) when inside.size() > 1 && isRow(inside.getFirst(), rows) ->
          find(
              field.fields(),
              rows.get(Integer.parseInt(inside.getFirst())),
              inside.subList(1, inside.size()),
              number);
      default -> Optional.empty();
    };
  }

  private static boolean isRow(String number, List<Values> rows) {
    return number.matches("[0-9]{1,6}") && Integer.parseInt(number) < rows.size();
  }
}
