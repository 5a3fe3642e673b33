package nodley.service.wire;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileError;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.service.problem.Problem;
import nodley.store.Forms;
import nodley.store.Store;
import org.springframework.http.ResponseEntity;

/** Lists, parts and texts as bodies. */
final class SharedFiles {

  private SharedFiles() {}

  /** Publishes what the body has; 422 with all that is wrong in it. */
  static Forms.Change publish(Store store, Forms.Kind kind, String name, HttpServletRequest request)
      throws IOException {
    Body.Typed body = Body.read(request, List.of(Format.YAML.mediaType(), Format.JSON.mediaType()));
    Format format = body.mediaType().equals(Format.JSON.mediaType()) ? Format.JSON : Format.YAML;
    try {
      return store
          .forms()
          .share(new Forms.SharedText(kind, name, format, FormFile.decode(body.bytes())));
    } catch (FormFileException e) {
      throw Problem.of(422, "form-file", "The file has errors", "Nothing was published.")
          .with("errors", e.errors().stream().map(FormFileError::toJson).toList());
    }
  }

  /** 201 for what was not there before. */
  static ResponseEntity<byte[]> reply(Forms.Change change, Map<String, Object> json) {
    json.put("change", change.name().toLowerCase(Locale.ROOT));
    return Reply.json(Reply.status(change == Forms.Change.NEW ? 201 : 200), json);
  }
}
