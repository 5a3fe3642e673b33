package nodley.service.page;

import java.net.URI;
import java.util.HashMap;
import java.util.Map;
import nodley.core.value.Value;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;

/** Pages that belong to no form, in the look of the service and in the reader's language. */
@Component
class ServicePages {

  private final Templates templates;
  private final ThemeController looks;

  ServicePages(Templates templates, ThemeController looks) {
    this.templates = templates;
    this.looks = looks;
  }

  /**
   * A page.
   *
   * @param title the name of its title among the words
   * @param content the name of its template
   */
  ResponseEntity<byte[]> page(
      HttpStatus status, String title, String content, Map<String, Object> view) {
    return page(status, title, content, view, "");
  }

  /**
   * A page that tells what has become of something.
   *
   * @param said the sentence; may be empty
   */
  ResponseEntity<byte[]> page(
      HttpStatus status, String title, String content, Map<String, Object> view, String said) {
    return templates.reply(
        status, looks.ofService(), templates.words(), word(title), content, view, said);
  }

  /**
   * The same without what is around it in a reply.
   *
   * @param title its title, as it is read
   */
  byte[] render(String title, String content, Map<String, Object> view) {
    return templates.page(looks.ofService(), templates.words(), title, content, view, "");
  }

  /** A word or a sentence, by its name without {@code page.}. */
  String word(String name) {
    return word(name, Map.of());
  }

  /** The same with values. */
  String word(String name, Map<String, ?> values) {
    Map<String, Value> texts = new HashMap<>();
    values.forEach((key, value) -> texts.put(key, new Value.Text(String.valueOf(value))));
    return templates.words().word("page." + name, texts);
  }

  /** Sends the browser on. */
  static ResponseEntity<byte[]> seeOther(URI address, String... cookies) {
    return ResponseEntity.status(HttpStatus.SEE_OTHER)
        .header(HttpHeaders.SET_COOKIE, cookies)
        .location(address)
        .build();
  }
}
