package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.BodyPart;
import jakarta.mail.Message;
import jakarta.mail.Multipart;
import jakarta.mail.internet.MimeMessage;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Outlets that are mails, by a server that speaks SMTP. */
class MailWireTest {

  private static final String VISIT =
      """
      form: visit
      access: { add: anyone }
      fields:
        vessel: { type: text, multiline: true }
        mail: { type: text }
        contact: { type: group, fields: { phone: { type: text } } }
      deliver: [{ to: welcome, on: add }]
      """;

  @TempDir private static Path folder;

  private static GreenMail post;
  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() throws IOException {
    post = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    post.start();
    post.setUser("harbour@quay.example", "harbour", "a-password");
    Files.writeString(folder.resolve("welcome.txt"), "We expect {vessel}.\nCall {contact.phone}.");
    Files.writeString(folder.resolve("welcome.de.txt"), "Wir erwarten {vessel}.");
    Files.writeString(
        folder.resolve("welcome.html"), "<style>p { color: #0b5560 }</style><p>{vessel}</p>");
    service = RunningService.with(settings(post.getSmtp().getPort(), "user: harbour,"));
    wire = service.wire();
    assertThat(wire.publish("visit", VISIT).status()).isEqualTo(201);
    String texts = "fields: { vessel: { label: Schiff } }\n";
    assertThat(wire.put("/api/texts/visit/de", "application/yaml", texts).status()).isIn(200, 201);
  }

  @AfterAll
  static void stop() {
    service.close();
    post.stop();
  }

  @AfterEach
  void empty() throws Exception {
    post.purgeEmailFromAllMailboxes();
  }

  private static String[] settings(int port, String more) {
    return new String[] {
      "nodley.mail: { host: 127.0.0.1, port: %d, %s password: a-password, security: none, from: harbour@quay.example }"
          .formatted(port, more),
      "nodley.outlets.welcome.mail: { to: \"{mail}\", subject: \"We expect you, {vessel}\", text: \"%s\", html: \"%s\" }"
          .formatted(folder.resolve("welcome.txt"), folder.resolve("welcome.html")),
      "nodley.deliveries: { first-wait: 50ms, give-up: 5s, time: 2s }"
    };
  }

  private static String added(Wire by, String vessel, String mail) {
    String json =
        JsonMapper.shared()
            .writeValueAsString(
                Map.of("vessel", vessel, "mail", mail, "contact", Map.of("phone", "12")));
    return by.post("/api/forms/visit/records", Wire.JSON_TYPE, json).json().path("id").asString();
  }

  private static JsonNode until(Wire by, String record, String state) {
    await("it is " + state)
        .atMost(Duration.ofSeconds(20))
        .until(() -> delivery(by, record).path("state").asString().equals(state));
    return delivery(by, record);
  }

  private static JsonNode delivery(Wire by, String record) {
    return by.get("/api/deliveries?record=" + record).json().path("deliveries").get(0);
  }

  private static MimeMessage only() {
    assertThat(post.getReceivedMessages()).hasSize(1);
    return post.getReceivedMessages()[0];
  }

  /** The texts of a mail, by their types. */
  private static String part(Multipart parts, String type) throws Exception {
    for (int i = 0; i < parts.getCount(); i++) {
      BodyPart part = parts.getBodyPart(i);
      if (part.getContent() instanceof Multipart inside) {
        String found = part(inside, type);
        if (!found.isEmpty()) {
          return found;
        }
      } else if (part.isMimeType(type)) {
        return part.getContent().toString();
      }
    }
    return "";
  }

  @Test
  void aPersonGetsWhatTheTemplatesSay() throws Exception {
    String record = added(wire, "Grüne <b>Möwe</b>", "ann@quay.example");
    String id = until(wire, record, "delivered").path("id").asString();
    MimeMessage mail = only();
    assertThat(mail.getSubject()).isEqualTo("We expect you, Grüne <b>Möwe</b>");
    assertThat(Arrays.toString(mail.getAllRecipients())).isEqualTo("[ann@quay.example]");
    assertThat(Arrays.toString(mail.getFrom())).isEqualTo("[harbour@quay.example]");
    assertThat(mail.getMessageID()).isEqualTo("<" + id + "@quay.example>");
    assertThat(mail.getHeader("Auto-Submitted")).containsExactly("auto-generated");
    Multipart parts = (Multipart) mail.getContent();
    assertThat(part(parts, "text/plain").replace("\r\n", "\n"))
        .isEqualTo("We expect Grüne <b>Möwe</b>.\nCall 12.");
    assertThat(part(parts, "text/html"))
        .isEqualTo("<style>p { color: #0b5560 }</style><p>Grüne &lt;b&gt;Möwe&lt;/b&gt;</p>");
  }

  @Test
  void inTheLanguageOfWhoeverSends() throws Exception {
    String record =
        wire.post(
                "/api/forms/visit/records",
                Wire.JSON_TYPE,
                "{\"vessel\":\"Petrel\",\"mail\":\"ann@quay.example\"}",
                "Accept-Language",
                "de")
            .json()
            .path("id")
            .asString();
    until(wire, record, "delivered");
    assertThat(part((Multipart) only().getContent(), "text/plain"))
        .isEqualTo("Wir erwarten Petrel.");
    assertThat(only().getHeader("Content-Language")).containsExactly("de");
  }

  @ParameterizedTest
  @CsvSource({
    "'x\r\nBcc: evil@sea.example\r\n\r\nHello'",
    "'x\nTo: evil@sea.example'",
    "'x\rSubject: y'",
    "'x\u2028Bcc: evil@sea.example'"
  })
  void noValueBecomesAHeader(String vessel) throws Exception {
    until(wire, added(wire, vessel, "ann@quay.example"), "delivered");
    MimeMessage mail = only();
    assertThat(Arrays.toString(mail.getAllRecipients())).isEqualTo("[ann@quay.example]");
    assertThat(mail.getHeader("Subject")).hasSize(1);
    assertThat(mail.getRecipients(Message.RecipientType.BCC)).isNull();
    assertThat(mail.getSubject()).startsWith("We expect you, x ").doesNotContain("\n");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "ann@quay.example, evil@sea.example",
        "ann@quay.example evil@sea.example",
        "Ann <ann@quay.example>",
        "ann",
        "''"
      })
  void oneAddressOrNone(String address) {
    String record = added(wire, "Petrel", address);
    assertThat(until(wire, record, "failed").path("answer").asString())
        .isEqualTo("there is no one address to send it to");
    assertThat(post.getReceivedMessages()).isEmpty();
  }

  /** Speaks as much of SMTP (RFC 5321) as it takes, and answers RCPT as a test says. */
  private static final class Strict implements AutoCloseable {
    private final ServerSocket socket;
    private final List<String> said = new ArrayList<>();
    private final Function<Integer, String> rcpt;

    Strict(Function<Integer, String> rcpt) throws IOException {
      this.rcpt = rcpt;
      this.socket = new ServerSocket(0, 5, InetAddress.getLoopbackAddress());
      Thread.ofVirtual().start(this::serve);
    }

    int port() {
      return socket.getLocalPort();
    }

    private void serve() {
      int asked = 0;
      while (!socket.isClosed()) {
        try (Socket caller = socket.accept();
            var in =
                new BufferedReader(
                    new InputStreamReader(caller.getInputStream(), StandardCharsets.US_ASCII))) {
          answer(caller, "220 strict");
          boolean isData = false;
          for (String line = in.readLine(); line != null; line = in.readLine()) {
            said.add(line);
            if (isData) {
              isData = !line.equals(".");
              if (!isData) {
                answer(caller, "250 taken");
              }
            } else if (line.startsWith("RCPT")) {
              answer(caller, rcpt.apply(asked++));
            } else if (line.startsWith("DATA")) {
              isData = true;
              answer(caller, "354 go on");
            } else {
              answer(caller, line.startsWith("QUIT") ? "221 bye" : "250 fine");
            }
          }
        } catch (IOException e) {
          // The caller has gone, or the server is closed.
        }
      }
    }

    private static void answer(Socket caller, String line) throws IOException {
      caller.getOutputStream().write((line + "\r\n").getBytes(StandardCharsets.US_ASCII));
    }

    @Override
    public void close() {
      try {
        socket.close();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
  }

  private static JsonNode mailedBy(Strict server, String state) {
    try (RunningService other = RunningService.with(settings(server.port(), ""))) {
      assertThat(other.wire().publish("visit", VISIT).status()).isEqualTo(201);
      return until(other.wire(), added(other.wire(), "Petrel", "ann@quay.example"), state);
    }
  }

  @Test
  void aRefusedRecipientIsFinal() throws IOException {
    try (Strict server = new Strict(_ -> "550 5.1.1 nobody of that name")) {
      JsonNode failed = mailedBy(server, "failed");
      assertThat(failed.path("tries").asInt()).isEqualTo(1);
      assertThat(failed.path("answer").asString())
          .isEqualTo("the mail server says: 550 5.1.1 nobody of that name");
    }
  }

  @Test
  void whoIsToComeAgainComesAgain() throws IOException {
    try (Strict server = new Strict(asked -> asked < 2 ? "451 4.7.1 greylisted" : "250 fine")) {
      JsonNode delivered = mailedBy(server, "delivered");
      assertThat(delivered.path("tries").asInt()).isEqualTo(3);
    }
  }

  @Test
  void withoutTlsNothingIsSentUnlessItIsSetSo() throws IOException {
    try (Strict server = new Strict(_ -> "250 fine")) {
      String[] settings = settings(server.port(), "");
      settings[0] = settings[0].replace("security: none", "security: starttls");
      try (RunningService other = RunningService.with(settings)) {
        JsonNode told = other.wire().post("/api/outlets/welcome/test", Wire.JSON_TYPE, "").json();
        assertThat(told.path("delivered").asBoolean()).isFalse();
      }
      assertThat(server.said).noneMatch(it -> it.startsWith("MAIL"));
    }
  }

  @Test
  void whatIsSetWrongIsToldAtTheStart() {
    assertThatThrownBy(() -> RunningService.with(settings(25, "")[1]))
        .hasMessageContaining("nodley.outlets.welcome is a mail, and nodley.mail.host is missing");
    String[] settings = settings(25, "");
    settings[1] = settings[1].replace("welcome.txt", "welkome.txt");
    assertThatThrownBy(() -> RunningService.with(settings))
        .hasMessageContaining("nodley.outlets.welcome.mail.text")
        .hasMessageContaining("there must be such a file");
  }
}
