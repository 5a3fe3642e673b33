package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.Message;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.web.util.HtmlUtils;
import tools.jackson.databind.JsonNode;

/** Links to set a password are mailed where mail is set up, and told whoever makes them. */
class PasswordMailTest {

  private static final String LINKS = "https://forms.quay.example";

  private GreenMail post;
  private RunningService service;

  @BeforeEach
  void start() {
    post = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    post.start();
    service =
        RunningService.with(
            "nodley.mail: { host: 127.0.0.1, port: %d, security: none, from: harbour@quay.example, links: \"%s\" }"
                .formatted(post.getSmtp().getPort(), LINKS),
            "nodley.deliveries.time: 2s");
  }

  @AfterEach
  void stop() {
    service.close();
    post.stop();
  }

  private JsonNode add(String json, String... headers) {
    Wire.Reply added = service.wire().post("/api/people", Wire.JSON_TYPE, json, headers);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    return added.json();
  }

  @Test
  void theMailHasTheLinkAndTheLinkIsGood() throws Exception {
    JsonNode ann =
        add(
            "{\"name\": \"Ann O'Hara\", \"email\": \"ann@harbour.example\"}",
            "Accept-Language",
            "en");
    assertThat(ann.path("mailedTo").asString()).isEqualTo("ann@harbour.example");
    assertThat(ann.has("notMailed")).isFalse();
    String link = ann.path("link").asString();
    assertThat(link).startsWith(LINKS + "/set-password?link=");

    MimeMessage mail = post.getReceivedMessages()[0];
    assertThat(mail.getRecipients(Message.RecipientType.TO))
        .containsExactly(new InternetAddress("ann@harbour.example"));
    assertThat(mail.getSubject()).isEqualTo("Set your password");
    assertThat(mail.getHeader("Auto-Submitted")).containsExactly("auto-generated");
    assertThat(ConfirmWireTest.text(mail, "text/plain"))
        .contains("You can sign in at " + LINKS + " as Ann O'Hara.")
        .contains("\n" + link + "\n");
    assertThat(HtmlUtils.htmlUnescape(ConfirmWireTest.text(mail, "text/html")))
        .contains("<a href=\"" + link + "\">Set the password</a>");

    Wire.Reply set =
        service
            .stranger()
            .put(
                "/api/password",
                Wire.JSON_TYPE,
                "{\"link\": \"%s\", \"password\": \"four oars and a bell\"}"
                    .formatted(link.replaceFirst(".*=", "")));
    assertThat(set.status()).isEqualTo(200);
  }

  @Test
  void aForgottenPasswordIsMailedTheSameWayInTheLanguageOfWhoeverAsks() throws Exception {
    add("{\"name\": \"ann\", \"email\": \"ann@harbour.example\"}");
    Wire.Reply again =
        service.wire().post("/api/people/ann/link", Wire.JSON_TYPE, "", "Accept-Language", "de-AT");
    assertThat(again.json().path("mailedTo").asString()).isEqualTo("ann@harbour.example");
    MimeMessage mail = post.getReceivedMessages()[1];
    assertThat(mail.getSubject()).isEqualTo("Setzen Sie Ihr Passwort");
    assertThat(mail.getHeader("Content-Language")).containsExactly("de");
  }

  @Test
  void whoHasNoAddressIsMailedNothing() {
    JsonNode bob = add("{\"name\": \"bob\"}");
    assertThat(bob.has("mailedTo")).isFalse();
    assertThat(bob.has("notMailed")).isFalse();
    assertThat(bob.path("link").asString()).startsWith(LINKS);
    assertThat(post.getReceivedMessages()).isEmpty();
  }

  /** Whoever adds somebody has the link all the same, and knows that they must hand it over. */
  @Test
  void whyItCouldNotBeMailedIsTold() {
    post.stop();
    JsonNode ann = add("{\"name\": \"ann\", \"email\": \"ann@harbour.example\"}");
    assertThat(ann.has("mailedTo")).isFalse();
    assertThat(ann.path("notMailed").asString()).startsWith("the mail server");
    assertThat(ann.path("link").asString()).startsWith(LINKS + "/set-password?link=");
    assertThat(service.wire().get("/api/people/ann").status()).isEqualTo(200);
  }
}
