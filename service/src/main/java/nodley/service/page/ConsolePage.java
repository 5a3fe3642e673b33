package nodley.service.page;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Base64;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.problem.Problem;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * Serves the console's page at every address below {@code /console}. Ant Design inserts the
 * variables of its styles at run time; a nonce in the content security policy allows these.
 */
@RestController
class ConsolePage {

  private static final String FILE = "/META-INF/resources/console/index.html";
  private static final String PLACEHOLDER = "__NONCE__";

  private final SecureRandom random = new SecureRandom();

  @Needs(Right.NOTHING)
  @GetMapping({
    "/console",
    "/console/",
    "/console/people",
    "/console/keys",
    "/console/new-form",
    "/console/sessions",
    "/console/deliveries",
    "/console/attempts",
    "/console/attempts/{id}",
    "/console/service",
    "/console/shared",
    "/console/shared/{kind}/{name}",
    "/console/forms/{form}",
    "/console/forms/{form}/{part}",
    "/console/forms/{form}/{part}/{id}"
  })
  ResponseEntity<byte[]> console() throws IOException {
    byte[] bytes = new byte[16];
    random.nextBytes(bytes);
    String nonce = Base64.getEncoder().encodeToString(bytes);
    try (InputStream in = ConsolePage.class.getResourceAsStream(FILE)) {
      if (in == null) {
        throw Problem.notFound("/console");
      }
      String html = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      return ResponseEntity.ok()
          .header("Cache-Control", "no-store")
          .header(
              "Content-Security-Policy",
              "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-"
                  + nonce
                  + "'; img-src 'self' data:; font-src 'self' data:; connect-src 'self';"
                  + " form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
          .contentType(MediaType.parseMediaType("text/html;charset=UTF-8"))
          .body(html.replace(PLACEHOLDER, nonce).getBytes(StandardCharsets.UTF_8));
    }
  }
}
