package nodley.service.page;

import java.io.IOException;
import java.io.InputStream;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.problem.Problem;
import nodley.store.access.Roles;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** Adds the panel with which developers try a hosted form; sent to developers only. */
@RestController
class Rehearsal {

  /** True if a page for the caller has the panel. */
  static boolean isFor(Caller caller) {
    return caller instanceof Caller.Known known && known.has(Roles.AUTHOR);
  }

  @Needs(Right.AUTHOR)
  @GetMapping("/rehearsal/{file:rehearse\\.(?:js|css)}")
  ResponseEntity<byte[]> file(@PathVariable("file") String file) throws IOException {
    try (InputStream in = Rehearsal.class.getResourceAsStream("/rehearsal/" + file)) {
      if (in == null) {
        throw Problem.notFound("/rehearsal/" + file);
      }
      String type = file.endsWith(".js") ? "text/javascript" : "text/css";
      return ResponseEntity.ok()
          .header("Cache-Control", "private, no-cache")
          .contentType(MediaType.parseMediaType(type + ";charset=UTF-8"))
          .body(in.readAllBytes());
    }
  }
}
