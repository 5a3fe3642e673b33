package nodley.service.page;

import com.ibm.icu.util.ULocale;
import com.samskivert.mustache.Escapers;
import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.Template;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import nodley.core.submission.Sentences;
import nodley.core.value.Value;
import nodley.service.caller.Caller;
import nodley.service.caller.SafeHeaders;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import nodley.store.Store;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;

/**
 * Renders the HTML templates of pages. Every value that is put in is escaped, but for what a
 * template says is HTML already. Templates are compiled once. Thread-safe.
 *
 * <p>What a page may come to is bounded: a page that would be larger than that is a failure, and is
 * not built further.
 */
@Component
class Templates {

  private final Map<String, Template> compiled = new ConcurrentHashMap<>();
  private final Mustache.Compiler compiler =
      Mustache.compiler()
          .escapeHTML(true)
          .nullValue("")
          .emptyStringIsFalse(true)
          .withLoader(Templates::open);
  private final Store store;
  private final long mostBytes;

  Templates(Store store, Limits limits) {
    this.store = store;
    this.mostBytes = limits.page().size().toBytes();
  }

  private static Reader open(String name) {
    InputStream in = Templates.class.getResourceAsStream("/templates/" + name + ".mustache");
    return new InputStreamReader(Objects.requireNonNull(in, name), StandardCharsets.UTF_8);
  }

  /**
   * Answers with a whole page.
   *
   * @param words what the page says besides, in its language
   * @param content the name of the template for what is between header and footer
   * @param said the outcome of what was sent before; empty if there is none to tell
   */
  ResponseEntity<byte[]> reply(
      HttpStatus status,
      PageTheme look,
      Sentences words,
      String title,
      String content,
      Object view,
      String said) {
    ResponseEntity.BodyBuilder reply =
        ResponseEntity.status(status)
            .header("Cache-Control", "no-store")
            .contentType(MediaType.parseMediaType("text/html;charset=UTF-8"));
    look.policy().ifPresent(policy -> reply.header(SafeHeaders.POLICY, policy));
    return reply.body(page(look, words, title, content, view, said));
  }

  /** The same without what is around it in a reply. */
  byte[] page(
      PageTheme look, Sentences words, String title, String content, Object view, String said) {
    Map<String, Object> page = new LinkedHashMap<>();
    Map<String, Object> outer = Map.of("word", word(words), "look", look);
    page.put("look", look);
    page.put("language", words.language().toLanguageTag());
    page.put("dir", direction(words));
    page.put("title", title);
    page.put("said", said);
    page.put("signedIn", Caller.current().isKnown());
    page.put(
        "signedInAs",
        words.word(
            "page.signed-in-as", Map.of("name", new Value.Text(Caller.current().displayName()))));
    page.put("rehearses", content.equals("form") && Rehearsal.isFor(Caller.current()));
    page.put("content", execute(template(content), view, outer));
    return execute(template("page"), page, outer).getBytes(StandardCharsets.UTF_8);
  }

  /** Which way the language runs: {@code ltr} or {@code rtl}. */
  static String direction(Sentences words) {
    return ULocale.forLocale(words.language()).isRightToLeft() ? "rtl" : "ltr";
  }

  private String execute(Template template, Object view, Object outer) {
    var out = new BoundedWriter();
    template.execute(view, outer, out);
    return out.toString();
  }

  /** Ends a page that grows too large while it is drawn, not when all of it is in memory. */
  private final class BoundedWriter extends StringWriter {

    @Override
    public void write(String text) {
      super.write(text);
      if (getBuffer().length() > mostBytes) {
        throw Problem.of(
            413,
            "too-large",
            "The page is too large",
            "It would have more than " + (mostBytes >> 10) + " KiB.");
      }
    }
  }

  /** {@code {{#word}}save{{/word}}} in a template is the word {@code page.save}. */
  private static Mustache.Lambda word(Sentences words) {
    return (key, out) ->
        out.write(Escapers.HTML.escape(words.word("page." + key.execute(), Map.of())));
  }

  /** The words of a page that belongs to no form, in the language of the one who reads it. */
  Sentences words() {
    return store.forms().sentences(Caller.current().languages());
  }

  private Template template(String name) {
    return compiled.computeIfAbsent(name, it -> compiler.compile(open(it)));
  }
}
