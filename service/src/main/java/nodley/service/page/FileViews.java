package nodley.service.page;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.value.ByteSize;
import nodley.core.value.FileRef;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.service.caller.Caller;
import nodley.service.upload.FileLinks;
import nodley.service.upload.Uploading;
import nodley.store.common.StoredRecord;
import org.springframework.stereotype.Component;

/** Prepares files for pages: those of a record, and those that were sent and are not yet kept. */
@Component
class FileViews {

  private static final Set<String> PICTURES =
      Set.of("image/jpeg", "image/png", "image/gif", "image/webp");

  private final Uploading uploading;

  FileViews(Uploading uploading) {
    this.uploading = uploading;
  }

  /**
   * Returns the files of a field; what is no longer there is left out.
   *
   * @param path dotted path of the field
   * @param place the same with the rows around it, as the address of a file has it
   */
  List<FileView> of(
      Form form, Optional<StoredRecord> record, String path, String place, Value value) {
    if (!(value instanceof Value.Files(List<FileRef> files, boolean _))) {
      return List.of();
    }
    List<FileView> views = new ArrayList<>();
    for (int i = 0; i < files.size(); i++) {
      FileRef file = files.get(i);
      String id = "f-" + place.replace('.', '-') + "-" + i;
      if (file.reference().isEmpty() && record.isPresent()) {
        String href = FileLinks.href(form.name(), record.get().id(), place, i);
        views.add(view(id, FileRef.toStored(file.sha256()), file, href));
      } else {
        file.upload()
            .flatMap(it -> uploading.usable(it, form.name(), path, Caller.current()))
            .map(
                it ->
                    view(
                        id,
                        file.reference(),
                        FileRef.stored(it.name(), it.type(), it.size(), it.sha256()),
                        "/api/uploads/" + it.id() + "/file"))
            .ifPresent(views::add);
      }
    }
    return views;
  }

  /** Returns values in which each file is what refers to it: so a page sends them again. */
  static Raw.Members referring(Fields fields, Raw.Members values) {
    if (!fields.hasFiles()) {
      return values;
    }
    Map<String, Raw> referring = new LinkedHashMap<>(values.members());
    for (Field field : fields) {
      boolean isInside = field.type() == Type.FILE || field.fields().hasFiles();
      if (isInside) {
        referring.computeIfPresent(field.name(), (_, raw) -> referring(field, raw));
      }
    }
    return new Raw.Members(referring);
  }

  private static Raw referring(Field field, Raw raw) {
    return switch (raw) {
      case Raw.Many(List<Raw> items) ->
          new Raw.Many(items.stream().map(it -> referring(field, it)).toList());
      case Raw.Members members when field.type() == Type.FILE ->
          FileRef.of(members).<Raw>map(it -> new Raw.Text(it.reference())).orElse(members);
      case Raw.Members members -> referring(field.fields(), members);
      default -> raw;
    };
  }

  private static FileView view(String id, String value, FileRef file, String href) {
    return new FileView(
        id,
        value,
        file.name(),
        ByteSize.shown(file.size()),
        href,
        PICTURES.contains(file.type()) ? href + "?thumbnail" : "");
  }
}
