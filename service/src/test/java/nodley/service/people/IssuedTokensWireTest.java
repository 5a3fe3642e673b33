package nodley.service.people;

import static nodley.service.people.TestIssuer.signed;
import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.crypto.MACSigner;
import com.nimbusds.jose.crypto.RSASSASigner;
import com.nimbusds.jose.jwk.RSAKey;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.PlainJWT;
import com.nimbusds.jwt.SignedJWT;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.Date;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.service.MovableClock;
import nodley.service.RunningService;
import nodley.service.Wire;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Tokens of an issuer, by which its people call: who is let in, and who is not. */
class IssuedTokensWireTest {

  private static final MovableClock CLOCK = new MovableClock(Instant.now());

  private static TestIssuer issuer;
  private static RSAKey first;
  private static RunningService service;

  @BeforeAll
  static void start() throws IOException, JOSEException {
    issuer = new TestIssuer();
    first = issuer.first;
    service =
        RunningService.with(
            CLOCK,
            "nodley.sign-in.issuers[0].name: harbour",
            "nodley.sign-in.issuers[0].uri: " + issuer.uri,
            "nodley.sign-in.issuers[0].audience: forms",
            "nodley.sign-in.issuers[0].roles-claim: groups.all",
            "nodley.sign-in.issuers[0].roles[0]: Harbour Clerks=clerk");
    assertThat(
            service
                .wire()
                .publish(
                    "request",
                    """
                    form: request
                    access: { add: signed-in, see: [owner, clerk], edit: owner }
                    fields:
                      about: { type: text }
                      from: { type: text, default: caller.name }
                      mail: { type: text, default: caller.email }
                    """)
                .status())
        .isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
    issuer.close();
  }

  /** As at first: one key; and so much later that it is asked for anew. */
  @BeforeEach
  void begin() {
    issuer.published = List.of(first.toPublicJWK());
    issuer.status = 200;
    issuer.moved = "";
    CLOCK.advance(Duration.ofMinutes(6));
  }

  private static JWTClaimsSet.Builder claims() {
    return new JWTClaimsSet.Builder()
        .issuer(issuer.uri)
        .audience(List.of("other", "forms"))
        .subject("ann")
        .expirationTime(Date.from(CLOCK.instant().plusSeconds(300)));
  }

  private static Wire with(String token) {
    return new Wire(service.address(), Optional.of(token));
  }

  private static JsonNode who(String token) {
    Wire.Reply reply = with(token).get("/api/session");
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
    return reply.json();
  }

  private static void refused(String token, String why) {
    Wire.Reply reply = with(token).get("/api/session");
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(401);
    assertThat(reply.json().path("detail").asString()).contains(why);
    // It does not count as a stranger's request either.
    assertThat(with(token).get("/api/forms/request").status()).isEqualTo(401);
  }

  @Test
  void itsPersonIsKnown() throws JOSEException {
    String token =
        signed(
            first,
            claims()
                .claim("name", "Ann Penrose")
                .claim("email", "ann@harbour.example")
                .claim("groups", Map.of("all", List.of("Harbour Clerks", "admin", "Staff")))
                .build());
    JsonNode who = who(token);
    assertThat(who.path("person").asString()).isEqualTo("harbour:ann");
    assertThat(who.path("name").asString()).isEqualTo("Ann Penrose");
    assertThat(who.path("email").asString()).isEqualTo("ann@harbour.example");
    assertThat(who.path("roles").toString()).isEqualTo("[\"clerk\"]");
    Wire.Reply added = with(token).add("request", "{\"about\": \"A buoy\"}");
    assertThat(added.status()).isEqualTo(201);
    assertThat(added.json().at("/values/from").asString()).isEqualTo("Ann Penrose");
    assertThat(added.json().at("/values/mail").asString()).isEqualTo("ann@harbour.example");
    JsonNode record =
        service
            .wire()
            .get("/api/forms/request/records/" + added.json().path("id").asString())
            .json();
    assertThat(record.path("owner").asString()).isEqualTo("harbour:ann");
    for (String path : List.of("/api/people", "/api/keys", "/api/log", "/api/attempts")) {
      assertThat(with(token).get(path).status()).as(path).isEqualTo(403);
    }
  }

  /** RFC 9068, section 2.1: the type of access tokens. */
  @Test
  void anAccessTokenSaysItsType() throws JOSEException {
    for (String type : List.of("JWT", "at+jwt", "application/at+jwt")) {
      SignedJWT jwt =
          new SignedJWT(
              new JWSHeader.Builder(JWSAlgorithm.RS256)
                  .keyID("one")
                  .type(new JOSEObjectType(type))
                  .build(),
              claims().build());
      jwt.sign(new RSASSASigner(first));
      assertThat(who(jwt.serialize()).path("person").asString()).as(type).isEqualTo("harbour:ann");
    }
    SignedJWT logout =
        new SignedJWT(
            new JWSHeader.Builder(JWSAlgorithm.RS256)
                .keyID("one")
                .type(new JOSEObjectType("logout+jwt"))
                .build(),
            claims().build());
    logout.sign(new RSASSASigner(first));
    assertThat(with(logout.serialize()).get("/api/session").status()).isEqualTo(401);
  }

  @Test
  void anAddressThatIsNotVerifiedIsNotTold() throws JOSEException {
    String token =
        signed(
            first,
            claims().claim("email", "root@harbour.example").claim("email_verified", false).build());
    assertThat(who(token).path("email").asString()).isEmpty();
    assertThat(who(token).path("name").asString()).isEqualTo("ann");
  }

  @Test
  void whatIsWrongWithItIsSaid() throws Exception {
    refused(signed(first, claims().audience("other").build()), "for another audience");
    refused(signed(first, claims().issuer("https://else.example").build()), "not known here");
    refused(signed(first, claims().subject(null).build()), "nobody in sub");
    refused(signed(first, claims().subject("ann\u0007\u202e").build()), "nobody in sub");
    refused(signed(first, claims().subject("x".repeat(201)).build()), "nobody in sub");
    assertThat(
            who(signed(first, claims().claim("name", "Ann\u202e\n").build()))
                .path("name")
                .asString())
        .as("a name that hides something is not told")
        .isEqualTo("ann");
    refused(signed(first, claims().expirationTime(null).build()), "no end (exp)");
    refused(
        signed(first, claims().expirationTime(Date.from(CLOCK.instant().minusSeconds(31))).build()),
        "The token ended at ");
    assertThat(
            who(signed(
                    first,
                    claims().expirationTime(Date.from(CLOCK.instant().minusSeconds(20))).build()))
                .path("person")
                .asString())
        .as("clocks differ")
        .isEqualTo("harbour:ann");
    refused(
        signed(first, claims().notBeforeTime(Date.from(CLOCK.instant().plusSeconds(60))).build()),
        "The token begins at ");
    refused(signed(TestIssuer.FORGED, claims().build()), "signature is not one of harbour");
    String good = signed(first, claims().build());
    String[] parts = good.split("\\.");
    String other = signed(first, claims().subject("root").build()).split("\\.")[1];
    refused(parts[0] + "." + other + "." + parts[2], "signature is not one of harbour");
  }

  /** RFC 8725: algorithms are chosen here, and not by who sends. */
  @Test
  void otherAlgorithmsAreNoSignature() throws Exception {
    assertThat(with(new PlainJWT(claims().build()).serialize()).get("/api/session").status())
        .isEqualTo(401);
    SignedJWT mac =
        new SignedJWT(
            new JWSHeader.Builder(JWSAlgorithm.HS256).keyID("one").build(), claims().build());
    mac.sign(new MACSigner(first.toPublicKey().getEncoded()));
    refused(mac.serialize(), "signature is not one of harbour");
  }

  @Test
  void whatIsNoTokenIsNoKey() {
    for (String token :
        List.of("a.b.c", "..", "eyJhbGciOiJub25lIn0.e30.", "x".repeat(5_000) + ".y.z")) {
      assertThat(with(token).get("/api/session").status()).as(token).isIn(401, 429);
    }
    int status = with("e".repeat(100_000) + ".y.z").get("/api/session").status();
    assertThat(status).isIn(400, 431);
    assertThat(service.wire().get("/api/session").status()).isEqualTo(200);
  }

  @Test
  void changedKeysAreFoundAndSeldomAskedFor() throws Exception {
    assertThat(who(signed(first, claims().build())).path("person").asString()).isNotEmpty();
    int before = issuer.fetches.get();
    for (int i = 0; i < 20; i++) {
      RSAKey another = new RSAKey.Builder(TestIssuer.FORGED).keyID("strange" + i).build();
      refused(signed(another, claims().build()), "signature");
    }
    assertThat(issuer.fetches.get() - before).isLessThanOrEqualTo(1);
    issuer.published = List.of(issuer.second.toPublicJWK());
    CLOCK.advance(Duration.ofSeconds(11));
    assertThat(who(signed(issuer.second, claims().build())).path("person").asString())
        .isEqualTo("harbour:ann");
    refused(signed(first, claims().build()), "signature is not one of harbour");
  }

  /** Keys that are known stay good for an hour. */
  @Test
  void anIssuerThatIsDownIsWaitedForALittle() throws Exception {
    String token =
        signed(
            first, claims().expirationTime(Date.from(CLOCK.instant().plusSeconds(9_000))).build());
    assertThat(who(token).path("person").asString()).isEqualTo("harbour:ann");
    issuer.status = 500;
    CLOCK.advance(Duration.ofMinutes(59));
    assertThat(who(token).path("person").asString()).isEqualTo("harbour:ann");
    CLOCK.advance(Duration.ofMinutes(2));
    Wire.Reply later = with(token).get("/api/session");
    assertThat(later.status()).isEqualTo(503);
    assertThat(later.json().path("type").asString()).isEqualTo("/problems/issuer-unreachable");
    assertThat(later.header("Retry-After")).isEqualTo("10");
    assertThat(service.wire().get("/api/session").status()).as("others").isEqualTo(200);
    // It does not follow to where keys may be anybody's.
    issuer.status = 302;
    issuer.moved = issuer.uri + "/keys";
    CLOCK.advance(Duration.ofSeconds(11));
    assertThat(with(token).get("/api/session").status()).isEqualTo(503);
    issuer.moved = "";
    issuer.status = 200;
    CLOCK.advance(Duration.ofSeconds(11));
    assertThat(who(token).path("person").asString()).isEqualTo("harbour:ann");
  }
}
