package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * nginx in front, set up as docs/running.md has it, plain and with TLS; and TLS without a proxy.
 * The client is at 127.0.0.5, the proxy at 127.0.0.1.
 */
class ProxyIT {

  private static final String CLIENT = "127.0.0.5";
  private static final String FORM =
      "form: berth\n"
          + "access: { add: anyone, see: anyone }\n"
          + "frames: [https://harbour.example]\n"
          + "fields: { name: { type: text } }";

  @TempDir private static Path folder;

  private static RunningService service;
  private static Certificate certificate;
  private static Process nginx;
  private static int plain;
  private static int tls;

  @BeforeAll
  static void start() throws Exception {
    service = RunningService.with("nodley.proxy.trusted: 127.0.0.1", "nodley.https.hsts: 365d");
    assertThat(service.wire().publish("berth", FORM).status()).isEqualTo(201);
    certificate = Certificate.in(folder);
    plain = freePort();
    tls = freePort();
    Path configuration = Files.writeString(folder.resolve("nginx.conf"), configuration());
    nginx =
        new ProcessBuilder(program(), "-p", folder.toString(), "-c", configuration.toString())
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("nginx.out").toFile())
            .start();
    await().until(() -> answers(plain) && answers(tls));
  }

  private static String program() {
    return Stream.of("/usr/sbin/nginx", "/usr/bin/nginx", "/opt/homebrew/bin/nginx")
        .filter(it -> Files.isExecutable(Path.of(it)))
        .findFirst()
        .orElse("nginx");
  }

  /** The server of the docs, at other ports and with another certificate; and the same plain. */
  private static String configuration() throws IOException {
    String docs = Files.readString(Repository.file("docs/running.md"));
    Matcher block = Pattern.compile("```nginx\n(.*?)```", Pattern.DOTALL).matcher(docs);
    assertThat(block.find()).isTrue();
    String server =
        block
            .group(1)
            .replace("http://127.0.0.1:8420", service.address())
            .replace("harbour.crt", certificate.certificate().toString())
            .replace("harbour.key", certificate.key().toString());
    String unencrypted = server.replaceAll("(?m)^ *ssl_.*\n", "");
    return "daemon off;\npid nginx.pid;\nerror_log error.log;\nevents {}\nhttp {\n"
        + "access_log off;\nclient_body_temp_path body;\nproxy_temp_path proxy;\n"
        + "fastcgi_temp_path fastcgi;\nuwsgi_temp_path uwsgi;\nscgi_temp_path scgi;\n"
        + server.replace("listen 443 ssl", "listen 127.0.0.1:" + tls + " ssl")
        + unencrypted.replace("listen 443 ssl", "listen 127.0.0.1:" + plain)
        + "}\n";
  }

  @AfterAll
  static void stop() throws InterruptedException {
    nginx.destroy();
    nginx.waitFor();
    service.close();
  }

  private static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    }
  }

  private static boolean answers(int port) {
    try (Socket socket = new Socket()) {
      socket.connect(new InetSocketAddress("127.0.0.1", port));
      return true;
    } catch (IOException e) {
      return false;
    }
  }

  /** A client at an address of its own: plain sockets can choose it. */
  private static Socket client(int port, boolean encrypted) throws IOException {
    Socket socket = new Socket();
    socket.bind(new InetSocketAddress(CLIENT, 0));
    socket.connect(new InetSocketAddress("127.0.0.1", port));
    return encrypted
        ? certificate.trust().getSocketFactory().createSocket(socket, "localhost", port, true)
        : socket;
  }

  private static String exchange(Socket socket, String line, String body, String... headers)
      throws IOException {
    try (socket) {
      String text =
          line
              + " HTTP/1.1\r\nHost: harbour.example\r\nConnection: close\r\n"
              + "Content-Type: application/json\r\nContent-Length: "
              + body.length()
              + "\r\n"
              + String.join("", Stream.of(headers).map(it -> it + "\r\n").toList())
              + "\r\n"
              + body;
      socket.getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
      return new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  private static String header(String reply, String name) {
    Matcher header =
        Pattern.compile("(?imd)^" + name + ": *(.*?)\r?$").matcher(reply.split("\r\n\r\n")[0]);
    return header.find() ? header.group(1) : "";
  }

  private static String from(String reply) {
    assertThat(reply).startsWith("HTTP/1.1 201");
    String id = header(reply, "X-Request-Id");
    return service.wire().get("/api/attempts/" + id).json().path("from").asString();
  }

  private static String add(Socket socket, String... headers) throws IOException {
    return exchange(socket, "POST /api/forms/berth/records", "{\"name\": \"North\"}", headers);
  }

  @Test
  void anAttemptNamesTheClientNotTheProxy() throws IOException {
    assertThat(from(add(client(plain, false)))).isEqualTo(CLIENT);
    assertThat(from(add(client(tls, true)))).isEqualTo(CLIENT);
  }

  /** What the client writes itself stands before what the proxy adds, or in the other header. */
  @Test
  void whatTheClientWritesCountsForNothing() throws IOException {
    String[] spoofed = {
      "X-Forwarded-For: 192.0.2.66, 198.51.100.7",
      "Forwarded: for=192.0.2.66;proto=https;host=evil.example",
      "X-Forwarded-Proto: https",
      "X-Forwarded-Host: evil.example"
    };
    assertThat(from(add(client(plain, false), spoofed))).isEqualTo(CLIENT);
    assertThat(from(add(client(tls, true), spoofed))).isEqualTo(CLIENT);
    // Past the proxy, from an address that is none of its.
    int own = URI.create(service.address()).getPort();
    assertThat(from(add(client(own, false), spoofed))).isEqualTo(CLIENT);
    String signedIn =
        exchange(
            client(own, false),
            "POST /api/session",
            key(),
            spoofed[2],
            "Origin: http://harbour.example");
    assertThat(header(signedIn, "Set-Cookie"))
        .startsWith("nodley_session=")
        .doesNotContain("Secure");
  }

  private static String key() {
    return "{\"key\": \"" + RunningService.KEY + "\"}";
  }

  @Test
  void overTlsTheCookieIsSecureAndBrowsersAreToldToStayThere() throws IOException {
    String encrypted =
        exchange(client(tls, true), "POST /api/session", key(), "Origin: https://harbour.example");
    assertThat(encrypted).startsWith("HTTP/1.1 200");
    assertThat(header(encrypted, "Set-Cookie"))
        .startsWith("__Host-nodley_session=")
        .contains("; Secure", "; HttpOnly", "; SameSite=Lax", "Path=/")
        .doesNotContain("Domain");
    assertThat(header(encrypted, "Strict-Transport-Security")).isEqualTo("max-age=31536000");
    String cookie = "Cookie: " + header(encrypted, "Set-Cookie").replaceFirst(";.*", "");
    assertThat(exchange(client(tls, true), "GET /api/session", "", cookie))
        .contains("\"caller\":\"admin\"");
    // A page over plain http is another origin, and a cookie of that name counts for nothing there.
    assertThat(
            exchange(
                client(tls, true), "POST /api/session", key(), "Origin: http://harbour.example"))
        .startsWith("HTTP/1.1 403");
    String unencrypted = exchange(client(plain, false), "GET /api/session", "", cookie);
    assertThat(unencrypted).contains("\"caller\":null");
    assertThat(header(unencrypted, "Strict-Transport-Security")).isEmpty();
  }

  @Test
  void safeHeadersComeThroughAndNothingTellsTheServer() throws IOException {
    String page = exchange(client(tls, true), "GET /forms", "");
    assertThat(header(page, "Permissions-Policy")).contains("camera=()");
    assertThat(header(page, "Cross-Origin-Opener-Policy")).isEqualTo("same-origin");
    assertThat(header(page, "Referrer-Policy")).isEqualTo("same-origin");
    assertThat(header(page, "X-Frame-Options")).isEqualTo("DENY");
    assertThat(header(page, "Content-Security-Policy")).contains("frame-ancestors 'none'");
    String framed = exchange(client(tls, true), "GET /forms/berth/new", "");
    assertThat(header(framed, "X-Frame-Options")).isEmpty();
    assertThat(header(framed, "Content-Security-Policy"))
        .contains("frame-ancestors 'self' https://harbour.example");
    int own = URI.create(service.address()).getPort();
    assertThat(header(exchange(client(own, false), "GET /forms", ""), "Server")).isEmpty();
  }

  @Test
  void changesComeThroughAsTheyHappen() throws Exception {
    try (Socket socket = client(tls, true)) {
      socket
          .getOutputStream()
          .write(
              "GET /api/forms/berth/changes HTTP/1.1\r\nHost: harbour.example\r\n\r\n"
                  .getBytes(StandardCharsets.UTF_8));
      var lines =
          new BufferedReader(
              new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
      awaitLine(lines, ": watching");
      assertThat(from(add(client(plain, false)))).isEqualTo(CLIENT);
      awaitLine(lines, "data: {\"record\":");
    }
  }

  private static void awaitLine(BufferedReader lines, String start) throws IOException {
    for (String line = lines.readLine(); line != null; line = lines.readLine()) {
      if (line.startsWith(start)) {
        return;
      }
    }
    throw new AssertionError("The stream ended before " + start);
  }

  @Test
  void theServiceSpeaksTlsByItselfToo() throws Exception {
    try (RunningService own =
        RunningService.with(
            "server.ssl.certificate: " + certificate.certificate(),
            "server.ssl.certificate-private-key: " + certificate.key())) {
      assertThat(own.address()).startsWith("https://127.0.0.1:");
      try (HttpClient http = HttpClient.newBuilder().sslContext(certificate.trust()).build()) {
        HttpResponse<String> reply =
            http.send(
                HttpRequest.newBuilder(URI.create(own.address() + "/api/session"))
                    .header("Content-Type", "application/json")
                    .POST(HttpRequest.BodyPublishers.ofString(key()))
                    .build(),
                HttpResponse.BodyHandlers.ofString());
        assertThat(reply.statusCode()).isEqualTo(200);
        assertThat(reply.headers().firstValue("Set-Cookie").orElse(""))
            .startsWith("__Host-nodley_session=");
      }
    }
  }

  /** The standard header, from a proxy that writes it. */
  @Test
  void theStandardHeaderCountsWhereItIsSetSo() throws Exception {
    try (RunningService other =
        RunningService.with(
            "nodley.proxy.trusted: [" + CLIENT + ", 203.0.113.0/24]",
            "nodley.proxy.headers: forwarded")) {
      assertThat(other.wire().publish("berth", FORM).status()).isEqualTo(201);
      int port = URI.create(other.address()).getPort();
      for (List<String> each :
          List.of(
              List.of("for=198.51.100.7", "198.51.100.7"),
              List.of("for=192.0.2.66, for=198.51.100.7;proto=https", "198.51.100.7"),
              List.of("for=198.51.100.7, for=203.0.113.9", "198.51.100.7"),
              List.of(
                  "For=\"[2001:db8:cafe::17]:4711\";by=203.0.113.43", "2001:db8:cafe:0:0:0:0:17"),
              List.of("for=\"_hidden\", for=unknown", CLIENT),
              List.of("for=198.51.100.7;host=\"unclosed", CLIENT),
              List.of("for", CLIENT))) {
        String reply =
            add(client(port, false), "Forwarded: " + each.getFirst(), "X-Forwarded-For: 192.0.2.1");
        String id = header(reply, "X-Request-Id");
        assertThat(other.wire().get("/api/attempts/" + id).json().path("from").asString())
            .as(each.getFirst())
            .isEqualTo(each.getLast());
      }
    }
  }
}
