package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.BodyPart;
import jakarta.mail.Multipart;
import jakarta.mail.internet.MimeMessage;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.web.util.HtmlUtils;
import tools.jackson.databind.JsonNode;

/** E-mail addresses that whoever reads their mail confirms. */
class ConfirmWireTest {

  private static final String LINKS = "https://forms.quay.example";

  private static final String GUEST =
      """
      form: guest
      title: Guests of the harbour
      zone: Europe/Lisbon
      access: { add: anyone }
      fields:
        name: { type: text }
        contact:
          type: group
          fields: { mail: { type: email, confirm: true } }
      deliver: [{ to: office, on: confirm }]
      """;

  private static final MovableClock CLOCK = new MovableClock(Instant.parse("2027-05-01T09:30:00Z"));

  private static GreenMail post;
  private static Receiver office;
  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    post = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    post.start();
    office = new Receiver();
    service =
        RunningService.with(
            CLOCK,
            "nodley.mail: { host: 127.0.0.1, port: %d, security: none, from: harbour@quay.example, links: \"%s\" }"
                .formatted(post.getSmtp().getPort(), LINKS),
            "nodley.outlets.office: { url: \"%s\", private: true }".formatted(office.url("/")),
            "nodley.deliveries: { first-wait: 50ms, give-up: 5s, time: 2s }");
    wire = service.wire();
    publish(GUEST);
  }

  @AfterAll
  static void stop() {
    service.close();
    office.close();
    post.stop();
  }

  @AfterEach
  void empty() throws Exception {
    post.purgeEmailFromAllMailboxes();
  }

  private static void publish(String yaml) {
    String name = yaml.substring("form: ".length(), yaml.indexOf('\n'));
    Wire.Reply reply = wire.publish(name, yaml);
    assertThat(reply.status()).as(reply.response().body()).isIn(200, 201);
  }

  private static String add(String form, String json, String... headers) {
    Wire.Reply added = wire.post("/api/forms/" + form + "/records", Wire.JSON_TYPE, json, headers);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    return added.json().path("id").asString();
  }

  private static String guest(String mail) {
    return add("guest", "{\"contact\": {\"mail\": \"%s\"}}".formatted(mail));
  }

  private static JsonNode record(String form, String id) {
    return wire.get("/api/forms/" + form + "/records/" + id).json();
  }

  private static String confirmedAt(String id) {
    return record("guest", id).path("confirmedAt").asString("");
  }

  /** The mails to an address, once there are so many. */
  private static List<MimeMessage> mails(String to, int count) {
    await(count + " mails to " + to)
        .atMost(Duration.ofSeconds(20))
        .until(() -> find(to).size() >= count);
    return find(to);
  }

  private static List<MimeMessage> find(String to) {
    return List.of(post.getReceivedMessages()).stream().filter(it -> isTo(it, to)).toList();
  }

  private static boolean isTo(MimeMessage mail, String to) {
    try {
      return mail.getAllRecipients()[0].toString().equals(to);
    } catch (jakarta.mail.MessagingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** The part of a mail of a media type. */
  static String text(MimeMessage mail, String type) throws Exception {
    return text((Multipart) mail.getContent(), type);
  }

  private static String text(Multipart parts, String type) throws Exception {
    for (int i = 0; i < parts.getCount(); i++) {
      BodyPart part = parts.getBodyPart(i);
      if (part.isMimeType(type)) {
        return part.getContent().toString().replace("\r\n", "\n");
      }
      if (part.getContent() instanceof Multipart inside) {
        String found = text(inside, type);
        if (!found.isEmpty()) {
          return found;
        }
      }
    }
    return "";
  }

  private static String link(MimeMessage mail) throws Exception {
    Matcher link =
        Pattern.compile(
                Pattern.quote(LINKS) + "/confirm-address\\?lang=[a-z]+&link=([A-Za-z0-9_-]+)\n")
            .matcher(text(mail, "text/plain"));
    assertThat(link.find()).as(text(mail, "text/plain")).isTrue();
    return link.group(1);
  }

  private static Wire.Reply open(String link) {
    return service.stranger().get("/confirm-address?link=" + link);
  }

  private static Wire.Reply press(String link) {
    return service
        .stranger()
        .post(
            "/confirm-address",
            Wire.FORM_TYPE,
            "link=" + URLEncoder.encode(link, StandardCharsets.UTF_8));
  }

  private static String page(Wire.Reply reply) {
    return HtmlUtils.htmlUnescape(reply.response().body());
  }

  private static long told(String record) {
    return office.came().stream()
        .filter(it -> it.json().path("subject").asString().equals(record))
        .count();
  }

  @Test
  void whoReadsTheMailConfirmsOnce() throws Exception {
    String id = guest("ann@quay.example");
    assertThat(confirmedAt(id)).isEmpty();
    MimeMessage mail = mails("ann@quay.example", 1).getFirst();
    String link = link(mail);
    assertThat(mail.getSubject()).isEqualTo("Please confirm your e-mail address");
    assertThat(text(mail, "text/plain"))
        .startsWith("This address was entered in “Guests of the harbour”.")
        // Two days later, by the clocks of Lisbon, which are an hour ahead in summer.
        .contains("The link is good until 2027-05-03, 10:30.");
    assertThat(HtmlUtils.htmlUnescape(text(mail, "text/html")))
        .contains("<a href=\"" + LINKS + "/confirm-address?lang=en&link=" + link + "\">");

    JsonNode mailed = wire.get("/api/deliveries?outlet=confirm&record=" + id).json();
    assertThat(mailed.path("deliveries")).hasSize(1);
    assertThat(mailed.toString()).doesNotContain(link);

    // A program that looks through mails opens links; nobody has pressed the button yet.
    assertThat(page(open(link))).contains("Guests of the harbour", "<button type=\"submit\">");
    assertThat(open(link).status()).isEqualTo(200);
    assertThat(confirmedAt(id)).isEmpty();

    assertThat(page(press(link))).contains("The address is confirmed.");
    JsonNode record = record("guest", id);
    assertThat(record.path("confirmedAt").asString()).isEqualTo("2027-05-01T09:30:00.000Z");
    assertThat(record.path("version").asInt()).isEqualTo(1);
    await().atMost(Duration.ofSeconds(20)).until(() -> told(id) == 1);
    JsonNode event =
        office.came().stream()
            .map(Receiver.Came::json)
            .filter(it -> it.path("subject").asString().equals(id))
            .findFirst()
            .orElseThrow();
    assertThat(event.path("type").asString()).isEqualTo("nodley.record.confirmed");
    assertThat(event.path("data").path("confirmedAt").asString())
        .isEqualTo("2027-05-01T09:30:00.000Z");

    CLOCK.advance(Duration.ofHours(1));
    assertThat(press(link).status()).isEqualTo(200);
    assertThat(page(open(link))).contains("The address is confirmed.").doesNotContain("<button");
    assertThat(confirmedAt(id)).isEqualTo("2027-05-01T09:30:00.000Z");
    assertThat(mails("ann@quay.example", 1)).hasSize(1);
  }

  @Test
  void twoWhoPressAtOnceConfirmOnce() throws Exception {
    String id = guest("both@quay.example");
    String link = link(mails("both@quay.example", 1).getFirst());
    try (ExecutorService both = Executors.newFixedThreadPool(8)) {
      Callable<Integer> one = () -> press(link).status();
      for (Future<Integer> each : both.invokeAll(List.of(one, one, one, one, one, one, one, one))) {
        assertThat(each.get()).isEqualTo(200);
      }
    }
    String other = guest("marker@quay.example");
    press(link(mails("marker@quay.example", 1).getFirst()));
    await().atMost(Duration.ofSeconds(20)).until(() -> told(other) == 1);
    assertThat(told(id)).isEqualTo(1);
  }

  @Test
  void aLinkThatHasEndedGivesAnother() throws Exception {
    String id = guest("late@quay.example");
    String first = link(mails("late@quay.example", 1).getFirst());
    CLOCK.advance(Duration.ofDays(2).minusMillis(1));
    assertThat(open(first).status()).isEqualTo(200);
    CLOCK.advance(Duration.ofMillis(1));
    assertThat(open(first).status()).isEqualTo(410);
    assertThat(page(open(first))).contains("This link has ended.", "Mail me another link");
    assertThat(mails("late@quay.example", 1)).as("opening sends nothing").hasSize(1);
    assertThat(page(press(first))).contains("Another link has been mailed");
    assertThat(confirmedAt(id)).isEmpty();
    String second = link(mails("late@quay.example", 2).getLast());
    // Pressed twice, it does not send a third one.
    assertThat(press(first).status()).isEqualTo(410);
    assertThat(page(press(first))).contains("This link is not good any more");
    assertThat(page(press(second))).contains("The address is confirmed.");
    assertThat(confirmedAt(id)).isNotEmpty();
    assertThat(mails("late@quay.example", 2)).hasSize(2);
  }

  @ParameterizedTest
  @CsvSource({"''", "x", "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA", "%F0%9F%90%A6", "a%00b"})
  void whatWasNotMadeHereConfirmsNothing(String link) {
    assertThat(open(link).status()).isEqualTo(410);
    assertThat(service.stranger().post("/confirm-address", Wire.FORM_TYPE, "link=" + link).status())
        .isEqualTo(410);
    assertThat(
            service.stranger().post("/confirm-address", Wire.JSON_TYPE, "{\"link\": [1]}").status())
        .isEqualTo(410);
  }

  @Test
  void anotherAddressIsConfirmedAnew() throws Exception {
    String id = guest("one@quay.example");
    String first = link(mails("one@quay.example", 1).getFirst());
    press(first);
    edit(id, 1, "{\"name\": \"Ann\"}");
    assertThat(confirmedAt(id)).as("of an edit of something else").isNotEmpty();
    edit(id, 2, "{\"contact\": {\"mail\": \"two@quay.example\"}}");
    assertThat(confirmedAt(id)).isEmpty();
    String second = link(mails("two@quay.example", 1).getFirst());
    assertThat(page(open(first))).contains("This link is not good any more");
    edit(id, 3, "{\"contact\": {\"mail\": \"one@quay.example\"}}");
    assertThat(press(second).status()).isEqualTo(410);
    assertThat(confirmedAt(id)).isEmpty();
    press(link(mails("one@quay.example", 2).getLast()));
    assertThat(confirmedAt(id)).isNotEmpty();
    edit(id, 4, "{\"contact\": null}");
    assertThat(confirmedAt(id)).isEmpty();
    assertThat(find("two@quay.example")).hasSize(1);
    assertThat(find("one@quay.example")).hasSize(2);
  }

  private static void edit(String id, int version, String json) {
    Wire.Reply reply =
        wire.patch(
            "/api/forms/guest/records/" + id,
            "application/merge-patch+json",
            json,
            "If-Match",
            "\"" + version + "\"");
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
  }

  @Test
  void whereAndSortAskForIt() throws Exception {
    publish(GUEST.replace("form: guest", "form: listed"));
    for (String name : List.of("a", "b", "c")) {
      add(
          "listed",
          "{\"name\": \"%s\", \"contact\": {\"mail\": \"%s@sea.example\"}}".formatted(name, name));
    }
    add("listed", "{\"name\": \"none\"}");
    press(link(mails("c@sea.example", 1).getFirst()));
    CLOCK.advance(Duration.ofMinutes(1));
    press(link(mails("a@sea.example", 1).getFirst()));
    assertThat(names("where=confirmedAt%20is%20blank&sort=name")).containsExactly("b", "none");
    assertThat(names("where=not%20(confirmedAt%20is%20blank)&sort=confirmedAt"))
        .containsExactly("c", "a");
    assertThat(names("where=confirmedAt%20is%20blank%20and%20not%20(contact.mail%20is%20blank)"))
        .containsExactly("b");
    assertThat(names("where=createdAt%20%3C=%20updatedAt&sort=name&limit=2"))
        .containsExactly("a", "b");
    assertThat(names("sort=-confirmedAt&limit=1")).containsExactly("a");
    Wire.Reply wrong = wire.get("/api/forms/listed/records?where=confirmdAt%20is%20blank");
    assertThat(wrong.status()).isEqualTo(400);
    assertThat(wrong.json().path("detail").asString()).contains("`confirmedAt`");
    // A form that confirms nothing knows no such time.
    publish("form: plain\nfields: { name: { type: text } }\n");
    assertThat(wire.get("/api/forms/plain/records?where=confirmedAt%20is%20blank").status())
        .isEqualTo(400);
    assertThat(wire.get("/api/forms/plain/records?sort=confirmedAt").status()).isEqualTo(400);
  }

  private static List<String> names(String query) {
    Wire.Reply reply = wire.get("/api/forms/listed/records?" + query);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
    return reply
        .json()
        .path("records")
        .valueStream()
        .map(it -> it.path("values").path("name").asString())
        .toList();
  }

  @Test
  void aFieldOfThatNameIsTheField() {
    publish(
        """
        form: own
        fields:
          mail: { type: email, confirm: true }
          confirmedAt: { type: text }
        """);
    add("own", "{\"confirmedAt\": \"in spring\"}");
    String query = "where=confirmedAt%20=%20%22in%20spring%22&sort=confirmedAt";
    assertThat(wire.get("/api/forms/own/records?" + query).json().path("records")).hasSize(1);
  }

  @Test
  void whatNobodyConfirmsGoesWhereTheFormSaysSo() throws Exception {
    publish(
        """
        form: brief
        access: { add: anyone }
        fields:
          mail: { type: email, confirm: { within: 1 week, else: remove } }
        """);
    publish("form: stay\nfields: { of: { type: record, form: brief } }\n");
    String lost = add("brief", "{\"mail\": \"lost@quay.example\"}");
    String kept = add("brief", "{\"mail\": \"kept@quay.example\"}");
    String blank = add("brief", "{}");
    String held = add("brief", "{\"mail\": \"held@quay.example\"}");
    add("stay", "{\"of\": \"%s\"}".formatted(held));
    String link = link(mails("lost@quay.example", 1).getFirst());
    press(link(mails("kept@quay.example", 1).getFirst()));
    mails("held@quay.example", 1);
    CLOCK.advance(Duration.ofDays(7).plusMillis(1));
    await("the sweep")
        .atMost(Duration.ofSeconds(20))
        .until(() -> wire.get("/api/forms/brief/records/" + lost).status() == 404);
    for (String each : List.of(kept, blank, held)) {
      assertThat(wire.get("/api/forms/brief/records/" + each).status()).isEqualTo(200);
    }
    assertThat(page(press(link))).contains("This link is not good any more");
    assertThat(wire.get("/api/log").json().toString()).contains("remove-unconfirmed");
  }

  @Test
  void whatIsRefusedOrHasNoAddressSendsNothing() {
    assertThat(wire.add("guest", "{\"contact\": {\"mail\": \"no address\"}}").status())
        .isEqualTo(422);
    add("guest", "{\"name\": \"Ann\"}");
    guest("after@quay.example");
    mails("after@quay.example", 1);
    assertThat(post.getReceivedMessages()).hasSize(1);
  }

  @Test
  void inTheLanguageOfWhoeverTypedIt() throws Exception {
    String texts = "title: Gäste des Hafens\n";
    assertThat(wire.put("/api/texts/guest/de", "application/yaml", texts).status()).isIn(200, 201);
    add("guest", "{\"contact\": {\"mail\": \"gast@quay.example\"}}", "Accept-Language", "de");
    MimeMessage mail = mails("gast@quay.example", 1).getFirst();
    assertThat(mail.getSubject()).isEqualTo("Bitte bestätigen Sie Ihre E-Mail-Adresse");
    assertThat(text(mail, "text/plain")).contains("in „Gäste des Hafens“ eingetragen");
    assertThat(text(mail, "text/plain")).containsPattern("gilt bis [0-9]{2}\\.05\\.2027, ");
    assertThat(mail.getHeader("Content-Language")).containsExactly("de");
    String link = link(mail);
    Wire.Reply page = service.stranger().get("/confirm-address?lang=de&link=" + link);
    assertThat(page(page))
        .contains(
            "<html lang=\"de\"", "Meine Adresse bestätigen", "action=\"/confirm-address?lang=de\"");
  }

  @Test
  void aLinkOutlivesARestart() throws Exception {
    try (RunningService other =
        RunningService.with(
            "nodley.mail: { host: 127.0.0.1, port: %d, security: none, from: harbour@quay.example, links: \"%s\" }"
                .formatted(post.getSmtp().getPort(), LINKS))) {
      String yaml = "form: guest\nfields: { mail: { type: email, confirm: true } }\n";
      assertThat(other.wire().publish("guest", yaml).status()).isEqualTo(201);
      other.wire().add("guest", "{\"mail\": \"again@quay.example\"}");
      String link = link(mails("again@quay.example", 1).getFirst());
      assertThat(press(link).status()).as("at another service").isEqualTo(410);
      other.restart();
      assertThat(page(other.stranger().post("/confirm-address", Wire.FORM_TYPE, "link=" + link)))
          .contains("The address is confirmed.");
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "fields: { a: { type: text, confirm: true } } | `confirm` does not go with type text",
        "fields: { a: { type: email, confirm: true }, b: { type: email, confirm: true } } | One"
            + " field of a form is confirmed; here are 2: `a`, `b`.",
        "fields: { crew: { type: rows, fields: { a: { type: email, confirm: true } } } } | `crew`"
            + " has a `confirm` inside its rows",
        "fields: { a: { type: email, confirm: { within: 2 hours } } } | `within` is a number of"
            + " days, weeks, months or years",
        "fields: { a: { type: email, confirm: { within: 2 days, else: drop } } } | `else`",
        "fields: { a: { type: email, confirm: { withn: 2 days } } } | `within`",
        "fields: { a: { type: email, confirm: true, kept: false } } | What is not kept is not"
            + " confirmed",
        "fields: { a: { type: email } }, deliver: [{ to: office, on: confirm }] | no e-mail field"
            + " of the form has `confirm: true`",
        "records: none, deliver: [{ to: office }], fields: { a: { type: email, confirm: true } } |"
            + " `records: none` keeps none: take `confirm` out",
        "fields: { a: { type: email, confirm: true } }, deliver: [{ to: confirm, on: add }] |"
            + " `confirm`"
      })
  void whatIsWrongInAFormFileIsTold(String rest, String told) {
    Wire.Reply reply = wire.publish("bad", "{ form: bad, " + rest + " }");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.response().body()).contains(told);
  }

  @Test
  void settingsThatAreMissingAreTold() {
    try (RunningService bare = RunningService.fresh()) {
      Wire.Reply reply =
          bare.wire()
              .publish("guest", "form: guest\nfields: { mail: { type: email, confirm: true } }\n");
      assertThat(reply.status()).isEqualTo(422);
      assertThat(reply.response().body()).contains("nodley.mail.host", "nodley.mail.links");
      assertThat(
              bare.wire()
                  .publish(
                      "guest", "form: guest\nfields: { mail: { type: email, confirm: false } }\n")
                  .status())
          .isEqualTo(201);
    }
    assertThatThrownBy(() -> RunningService.with("nodley.mail.links: forms.quay.example/x"))
        .hasMessageContaining("nodley.mail.links")
        .hasMessageContaining("https://forms.quay.example");
    assertThatThrownBy(
            () -> RunningService.with("nodley.outlets.confirm.url: https://quay.example"))
        .hasMessageContaining("give the outlet another name");
  }
}
