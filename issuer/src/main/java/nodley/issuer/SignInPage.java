package nodley.issuer;

import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.Template;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.springframework.http.MediaType;
import org.springframework.security.web.csrf.CsrfToken;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RestController;

/** Asks who somebody is: a button for each. */
@RestController
class SignInPage {

  private final Template page;

  SignInPage() throws IOException {
    try (InputStream text = SignInPage.class.getResourceAsStream("/sign-in.mustache")) {
      page = Mustache.compiler().compile(new String(text.readAllBytes(), StandardCharsets.UTF_8));
    }
  }

  /** Somebody as a button shows them. */
  private record Shown(String id, String name, String title) {}

  @GetMapping(path = "/sign-in", produces = MediaType.TEXT_HTML_VALUE + ";charset=UTF-8")
  String ask(@RequestAttribute("_csrf") CsrfToken token) {
    List<Shown> people =
        Issuer.PEOPLE.stream().map(it -> new Shown(it.id(), it.name(), it.title())).toList();
    return page.execute(Map.of("token", token.getToken(), "people", people));
  }
}
