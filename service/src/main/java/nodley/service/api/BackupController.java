package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Query;
import nodley.service.operator.Logged;
import nodley.store.Store;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** {@code GET /api/backup}: a copy of everything, as it is at one moment. */
@RestController
class BackupController {

  private final Store store;

  BackupController(Store store) {
    this.store = store;
  }

  @Logged("backup")
  @Needs(Right.OPERATOR)
  @GetMapping("/api/backup")
  void backUp(HttpServletRequest request, HttpServletResponse response) throws IOException {
    Query.of(request);
    Path copy = Files.createTempFile("nodley-backup", ".db");
    try {
      Files.delete(copy);
      response.setContentType("application/x-tar");
      response.setHeader("Cache-Control", "no-store");
      store.backUp(copy, response.getOutputStream());
    } finally {
      Files.deleteIfExists(copy);
    }
  }
}
