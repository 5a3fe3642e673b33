package nodley.service.people;

import static nodley.service.people.TestIssuer.signed;
import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jwt.JWTClaimsSet;
import java.io.IOException;
import java.net.URI;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Date;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.UnaryOperator;
import nodley.service.MovableClock;
import nodley.service.RunningService;
import nodley.service.Wire;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Signing in at an issuer (OpenID Connect Core 1.0), with an issuer that errs as it is told. */
class OpenIdSignInWireTest {

  private MovableClock clock;
  private TestIssuer issuer;
  private RunningService service;
  private Wire stranger;

  @BeforeEach
  void start() throws IOException, JOSEException {
    clock = new MovableClock(Instant.now());
    issuer = new TestIssuer();
    service =
        RunningService.with(
            clock,
            "nodley.sign-in.issuers[0].name: harbour",
            "nodley.sign-in.issuers[0].label: Harbour Office",
            "nodley.sign-in.issuers[0].uri: " + issuer.uri,
            "nodley.sign-in.issuers[0].client-id: nodley",
            "nodley.sign-in.issuers[0].client-secret: 's+cret'",
            "nodley.sign-in.issuers[0].roles-claim: groups",
            "nodley.sign-in.issuers[0].roles[0]: Harbour Clerks=clerk");
    stranger = service.stranger();
  }

  @AfterEach
  void stop() {
    issuer.hangs.countDown();
    service.close();
    issuer.close();
  }

  /** A sign-in that was begun: what the issuer was asked, and the cookie that waits. */
  private record Begun(Map<String, String> asked, String cookie) {}

  private Begun begin(String to) {
    Wire.Reply reply = stranger.get("/sign-in/with/harbour?to=" + to);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(303);
    String address = reply.header("Location");
    assertThat(address).startsWith(issuer.uri + "/begin?");
    Map<String, String> asked = new HashMap<>();
    for (String pair : URI.create(address).getRawQuery().split("&")) {
      String[] parts = pair.split("=", 2);
      asked.put(parts[0], URLDecoder.decode(parts[1], StandardCharsets.UTF_8));
    }
    String cookie = reply.header("Set-Cookie");
    assertThat(cookie).contains("HttpOnly").contains("SameSite=Lax");
    return new Begun(asked, cookie.replaceFirst(";.*", ""));
  }

  private JWTClaimsSet.Builder claims(Begun begun) {
    return new JWTClaimsSet.Builder()
        .issuer(issuer.uri)
        .audience("nodley")
        .subject("7")
        .issueTime(Date.from(clock.instant()))
        .expirationTime(Date.from(clock.instant().plusSeconds(300)))
        .claim("nonce", begun.asked().get("nonce"));
  }

  private void answers(String idToken) {
    issuer.tokens =
        "{\"access_token\": \"abc\", \"token_type\": \"Bearer\", \"id_token\": \"%s\"}"
            .formatted(idToken);
  }

  private Wire.Reply comesBack(Begun begun, String query) {
    return stranger.get("/sign-in/from/harbour?" + query, "Cookie", begun.cookie());
  }

  private static String with(String code, String state) {
    return "code="
        + code
        + "&state="
        + URLEncoder.encode(state, StandardCharsets.UTF_8)
        + "&session_state=whatever";
  }

  private Wire.Reply signsIn(Begun begun, JWTClaimsSet claims) throws JOSEException {
    answers(signed(issuer.first, claims));
    return comesBack(begun, with("good", begun.asked().get("state")));
  }

  private static String session(Wire.Reply reply) {
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(303);
    return reply.response().headers().allValues("Set-Cookie").stream()
        .filter(it -> it.startsWith("nodley_session="))
        .map(it -> it.replaceFirst(";.*", ""))
        .findFirst()
        .orElseThrow();
  }

  private static void refused(Wire.Reply reply, int status, String why) {
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(status);
    assertThat(reply.response().body()).contains(why).contains("<title>Sign in</title>");
    assertThat(reply.response().headers().allValues("Set-Cookie"))
        .noneMatch(it -> it.startsWith("nodley_session=") && !it.startsWith("nodley_session=;"));
  }

  private JWTClaimsSet otto(Begun begun) {
    return claims(begun)
        .claim("name", "Otto Brandt")
        .claim("email", "otto@harbour.example")
        .claim("groups", List.of("Harbour Clerks", "admin"))
        .build();
  }

  @Test
  void whoeverTheIssuerKnowsIsSignedIn() throws Exception {
    Begun begun = begin("/console/log");
    // RFC 7636, section 4.2; OpenID Connect Core 1.0, section 3.1.2.1.
    assertThat(begun.asked())
        .containsEntry("response_type", "code")
        .containsEntry("client_id", "nodley")
        .containsEntry("scope", "openid profile email")
        .containsEntry("code_challenge_method", "S256")
        .containsEntry("redirect_uri", service.address() + "/sign-in/from/harbour");
    Wire.Reply reply = signsIn(begun, otto(begun));
    String session = session(reply);
    assertThat(reply.header("Location")).isEqualTo("/console/log");

    Map<String, String> exchanged = new HashMap<>();
    for (String pair : issuer.exchange.get().split("&")) {
      String[] parts = pair.split("=", 2);
      exchanged.put(parts[0], URLDecoder.decode(parts[1], StandardCharsets.UTF_8));
    }
    byte[] digest =
        MessageDigest.getInstance("SHA-256")
            .digest(exchanged.get("code_verifier").getBytes(StandardCharsets.US_ASCII));
    assertThat(Base64.getUrlEncoder().withoutPadding().encodeToString(digest))
        .isEqualTo(begun.asked().get("code_challenge"));
    assertThat(exchanged).containsEntry("code", "good");
    // RFC 6749, section 2.3.1: form-encoded, then Basic.
    assertThat(issuer.client.get())
        .isEqualTo(
            "Basic "
                + Base64.getEncoder()
                    .encodeToString("nodley:s%2Bcret".getBytes(StandardCharsets.US_ASCII)));

    var who = stranger.get("/api/session", "Cookie", session).json();
    assertThat(who.path("person").asString()).isEqualTo("harbour:7");
    assertThat(who.path("name").asString()).isEqualTo("Otto Brandt");
    assertThat(who.path("email").asString()).isEqualTo("otto@harbour.example");
    assertThat(who.path("roles").toString()).isEqualTo("[\"clerk\"]");
    assertThat(stranger.get("/forms", "Cookie", session).response().body())
        .contains("Signed in as Otto Brandt");
    var listed = service.wire().get("/api/sessions").json().path("sessions").get(0);
    assertThat(listed.path("caller").asString()).isEqualTo("Otto Brandt");
    assertThat(listed.path("by").asString()).isEqualTo("issuer");
    assertThat(service.wire().get("/api/log?limit=5").response().body())
        .contains("\"sign-in\"")
        .contains("harbour:7");
  }

  @Test
  void theIssuerMayTellMoreWhenAsked() throws Exception {
    issuer.configured.put("userinfo_endpoint", issuer.uri + "/about");
    issuer.about = "{\"sub\": \"7\", \"name\": \"Ann Penrose\", \"groups\": [\"Harbour Clerks\"]}";
    Begun begun = begin("/forms");
    String session = session(signsIn(begun, claims(begun).build()));
    var who = stranger.get("/api/session", "Cookie", session).json();
    assertThat(who.path("name").asString()).isEqualTo("Ann Penrose");
    assertThat(who.path("roles").toString()).isEqualTo("[\"clerk\"]");

    issuer.about = "{\"sub\": \"8\", \"name\": \"Somebody Else\"}";
    Begun other = begin("/forms");
    refused(signsIn(other, claims(other).build()), 403, "no sign-in with Harbour Office");
  }

  @Test
  void whatIsWrongWithATokenSignsNobodyIn() throws Exception {
    Instant now = clock.instant();
    Map<String, UnaryOperator<JWTClaimsSet.Builder>> wrong =
        Map.of(
            "nonce", it -> it.claim("nonce", "another"),
            "no nonce", it -> it.claim("nonce", null),
            "issuer", it -> it.issuer("https://else.example"),
            "audience", it -> it.audience("another"),
            "authorised party", it -> it.audience(List.of("nodley", "other")).claim("azp", "other"),
            "expired", it -> it.expirationTime(Date.from(now.minusSeconds(120))),
            "not yet", it -> it.notBeforeTime(Date.from(now.plusSeconds(120))),
            "no end", it -> it.expirationTime(null),
            "nobody", it -> it.subject(null),
            "a name that hides something", it -> it.subject("ann\u202e"));
    for (var each : wrong.entrySet()) {
      Begun begun = begin("/forms");
      Wire.Reply reply = signsIn(begun, each.getValue().apply(claims(begun)).build());
      assertThat(reply.status()).as(each.getKey()).isEqualTo(403);
      refused(reply, 403, "no sign-in with Harbour Office that can be trusted");
    }
    Begun begun = begin("/forms");
    answers(signed(TestIssuer.FORGED, claims(begun).build()));
    refused(comesBack(begun, with("good", begun.asked().get("state"))), 403, "can be trusted");
    issuer.tokens = "{\"access_token\": \"abc\", \"token_type\": \"Bearer\"}";
    refused(comesBack(begun, with("good", begun.asked().get("state"))), 403, "can be trusted");
    issuer.tokens = "no JSON";
    refused(comesBack(begun, with("good", begun.asked().get("state"))), 403, "can be trusted");
  }

  @Test
  void onlyTheBrowserThatBeganMayFinishAndSoon() throws Exception {
    Begun begun = begin("/forms");
    answers(signed(issuer.first, claims(begun).build()));
    String good = with("good", begun.asked().get("state"));
    refused(stranger.get("/sign-in/from/harbour?" + good), 400, "not begun in this browser");
    refused(comesBack(begun("nodley_sign_in=forged"), good), 400, "not begun in this browser");
    refused(comesBack(begun, with("good", "another")), 400, "not begun in this browser");
    refused(comesBack(begun, "code=good"), 400, "not begun in this browser");
    refused(comesBack(begin("/forms"), good), 400, "not begun in this browser");
    refused(comesBack(begun, good + "&iss=https://else.example"), 403, "can be trusted");
    refused(comesBack(begun, good.replace("code=good&", "")), 403, "can be trusted");
    clock.advance(Duration.ofMinutes(11));
    refused(comesBack(begun, good), 400, "more than 10 minutes ago");
  }

  private static Begun begun(String cookie) {
    return new Begun(Map.of(), cookie);
  }

  @Test
  void whoeverDeclinesIsToldSo() {
    Begun begun = begin("/forms");
    String state = URLEncoder.encode(begun.asked().get("state"), StandardCharsets.UTF_8);
    refused(
        comesBack(begun, "error=access_denied&state=" + state),
        403,
        "Signing in with Harbour Office was cancelled, or is not for you.");
    refused(
        comesBack(begun, "error=server_error&error_description=%3Cb%3Ehe%3C/b%3E&state=" + state),
        403,
        "Harbour Office did not sign you in.");
  }

  @Test
  void anIssuerThatIsDownHarmsNobodyElse() throws Exception {
    issuer.status = 500;
    refused(
        stranger.get("/sign-in/with/harbour"), 503, "Harbour Office cannot be reached just now.");
    issuer.status = 302;
    issuer.moved = issuer.uri + "/.well-known/openid-configuration";
    clock.advance(Duration.ofSeconds(11));
    refused(stranger.get("/sign-in/with/harbour"), 503, "cannot be reached");
    issuer.status = 200;
    issuer.moved = "";
    issuer.configured.put("token_endpoint", "http://else.example/token");
    clock.advance(Duration.ofSeconds(11));
    refused(stranger.get("/sign-in/with/harbour"), 503, "cannot be reached");
    issuer.configured.clear();
    issuer.configured.put("subject_types_supported", "no list");
    clock.advance(Duration.ofSeconds(11));
    refused(stranger.get("/sign-in/with/harbour"), 503, "cannot be reached");
    issuer.configured.clear();
    clock.advance(Duration.ofMinutes(6));

    // Some wait for it; the next is told at once, and others are served.
    Begun begun = begin("/forms");
    issuer.hangs = new CountDownLatch(1);
    answers(signed(issuer.first, claims(begun).build()));
    String good = with("good", begun.asked().get("state"));
    List<Future<Wire.Reply>> waiting = new ArrayList<>();
    try (var pool = Executors.newVirtualThreadPerTaskExecutor()) {
      for (int i = 0; i < 12; i++) {
        waiting.add(pool.submit(() -> comesBack(begun, good)));
      }
      Awaitility.await().until(() -> waiting.stream().filter(Future::isDone).count() == 4);
      assertThat(service.wire().get("/api/session").status()).isEqualTo(200);
      for (Future<Wire.Reply> each : waiting) {
        if (each.isDone()) {
          refused(each.get(), 503, "Many are signing in just now.");
        }
      }
    }
    for (Future<Wire.Reply> each : waiting) {
      assertThat(each.get().status()).isEqualTo(503);
    }
  }

  @Test
  void changedKeysAreFound() throws Exception {
    Begun begun = begin("/forms");
    session(signsIn(begun, otto(begun)));
    issuer.published = List.of(issuer.second.toPublicJWK());
    clock.advance(Duration.ofSeconds(11));
    Begun again = begin("/forms");
    answers(signed(issuer.second, otto(again)));
    session(comesBack(again, with("good", again.asked().get("state"))));
  }

  @Test
  void aSessionOutlivesARestart() throws Exception {
    Begun begun = begin("/forms");
    String session = session(signsIn(begun, otto(begun)));
    service.restart();
    stranger = service.stranger();
    assertThat(stranger.get("/api/session", "Cookie", session).json().path("person").asString())
        .isEqualTo("harbour:7");
  }

  @Test
  void signingOutGoesOnToTheIssuer() throws Exception {
    issuer.configured.put("end_session_endpoint", issuer.uri + "/end?x=1");
    Begun begun = begin("/forms");
    String session = session(signsIn(begun, otto(begun)));
    Wire.Reply page =
        stranger.post(
            "/sign-out",
            Wire.FORM_TYPE,
            "",
            "Cookie",
            session,
            "Origin",
            service.address(),
            "Sec-Fetch-Site",
            "same-origin");
    assertThat(page.status()).isEqualTo(200);
    // OpenID Connect RP-Initiated Logout 1.0, section 2.
    assertThat(page.header("Refresh"))
        .startsWith("0; url=" + issuer.uri + "/end?x=1&id_token_hint=ey")
        .contains("&client_id=nodley&")
        .endsWith(
            "&post_logout_redirect_uri="
                + URLEncoder.encode(service.address() + "/sign-in", StandardCharsets.UTF_8));
    assertThat(stranger.get("/api/session", "Cookie", session).json().path("caller").isNull())
        .isTrue();

    Begun again = begin("/forms");
    Wire.Reply ended =
        stranger.delete("/api/session", "Cookie", session(signsIn(again, otto(again))));
    assertThat(ended.json().path("signOutAt").asString()).startsWith(issuer.uri + "/end?x=1&");
  }

  @Test
  void whoeverIsForgottenIsSignedOut() throws Exception {
    Begun begun = begin("/forms");
    String session = session(signsIn(begun, otto(begun)));
    assertThat(service.wire().post("/api/people/harbour:7/forget", Wire.JSON_TYPE, "").status())
        .isEqualTo(200);
    assertThat(stranger.get("/api/session", "Cookie", session).json().path("caller").isNull())
        .isTrue();
  }

  @Test
  void strangersAreTold() throws JOSEException {
    var session = stranger.get("/api/session").json();
    assertThat(session.at("/issuers/0/label").asString()).isEqualTo("Harbour Office");
    assertThat(session.at("/issuers/0/address").asString()).isEqualTo("/sign-in/with/harbour");
    assertThat(stranger.get("/sign-in?to=/forms/vessel/new").response().body())
        .contains("href=\"/sign-in/with/harbour?to=/forms/vessel/new\"")
        .contains("Sign in with Harbour Office");
    assertThat(stranger.get("/sign-in/with/nobody").status()).isEqualTo(404);
    assertThat(stranger.get("/sign-in/from/nobody").status()).isEqualTo(404);
    // Only a path of this service is gone to.
    Begun elsewhere = begin("https://else.example");
    Wire.Reply signedIn = signsIn(elsewhere, otto(elsewhere));
    assertThat(signedIn.header("Location")).isEqualTo("/forms");
    // It issues no bearer tokens for us.
    assertThat(new Wire(service.address(), Optional.of("a.b.c")).get("/api/session").status())
        .isEqualTo(401);
  }
}
