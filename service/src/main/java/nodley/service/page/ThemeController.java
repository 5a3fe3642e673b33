package nodley.service.page;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.store.Store;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/**
 * Finds the theme of a page, and serves the stylesheets of themes: {@code GET
 * /page/themes/{name}.css}. Browsers keep a sheet for a minute.
 */
@RestController
class ThemeController {

  private final Store store;

  ThemeController(Store store) {
    this.store = store;
  }

  PageTheme of(Form form) {
    return new PageTheme(store.forms().theme(form), onwards(form), form.pages().frames());
  }

  /** Of pages that belong to no form. */
  PageTheme ofService() {
    return new PageTheme(store.forms().theme(), List.of(), List.of());
  }

  /** Fields that an address names stand behind its origin, which is all that matters here. */
  private static List<String> onwards(Form form) {
    return Stream.of(Mode.ADD, Mode.EDIT)
        .map(mode -> form.after(mode).go().fill(_ -> ""))
        .filter(it -> it.startsWith("http"))
        .toList();
  }

  /** A minute old at most: a theme is published anew while people have pages open. */
  @Needs(Right.NOTHING)
  @GetMapping("/page/themes/{name}.css")
  ResponseEntity<byte[]> sheet(@PathVariable("name") String name) {
    return store
        .forms()
        .theme(name)
        .map(
            theme ->
                ResponseEntity.ok()
                    .cacheControl(CacheControl.maxAge(1, TimeUnit.MINUTES))
                    .contentType(MediaType.parseMediaType("text/css;charset=UTF-8"))
                    .body(theme.css().getBytes(StandardCharsets.UTF_8)))
        .orElseGet(() -> ResponseEntity.notFound().build());
  }
}
