package nodley.service.page;

import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.Template;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import nodley.service.caller.Caller;
import org.springframework.stereotype.Component;

/** The HTML templates; every value that they insert is escaped. */
@Component
class Templates {

  private final Map<String, Template> compiled = new ConcurrentHashMap<>();
  private final Mustache.Compiler compiler =
      Mustache.compiler()
          .escapeHTML(true)
          .nullValue("")
          .emptyStringIsFalse(true)
          .withLoader(Templates::open);

  private static Reader open(String name) {
    InputStream in = Templates.class.getResourceAsStream("/templates/" + name + ".mustache");
    return new InputStreamReader(Objects.requireNonNull(in, name), StandardCharsets.UTF_8);
  }

  /**
   * Renders a whole page.
   *
   * @param content the name of the template for what is between header and footer
   * @param said the outcome of what was sent before; empty if there is none to tell
   */
  byte[] page(String title, String content, Object view, String said) {
    Map<String, Object> page = new LinkedHashMap<>();
    page.put("title", title);
    page.put("said", said);
    page.put("signedIn", Caller.current().isKnown());
    page.put("content", template(content).execute(view));
    return template("page").execute(page).getBytes(StandardCharsets.UTF_8);
  }

  private Template template(String name) {
    return compiled.computeIfAbsent(name, it -> compiler.compile(open(it)));
  }
}
