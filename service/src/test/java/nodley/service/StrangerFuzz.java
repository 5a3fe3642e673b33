package nodley.service;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicLong;

/**
 * Sends a running service of Marrow Quay what no client would: requests whose parts are broken at
 * random, each over a connection of its own. Whatever it is, the answer comes, and is no fault of
 * the service's own. The same seed makes the same requests.
 */
final class StrangerFuzz {

  private static final int MOST_TOLD = 10;
  private static final int TIMEOUT_MILLIS = 60_000;

  /** What parsers stumble over. */
  private static final List<String> NASTY =
      List.of(
          "\u0000",
          "%00",
          "%",
          "%zz",
          "%ff",
          "%C0%80",
          "%ED%A0%80",
          "%F4%90%80%80",
          "\uFEFF",
          "\u202E",
          "e\u0301\u0316",
          "\uD83D\uDEA2",
          "ß",
          "İ",
          "\"",
          "'",
          "\\",
          "\\u0000",
          "\\uD800",
          "{",
          "}",
          "[",
          "]",
          "(",
          ")",
          "<",
          "&",
          "=",
          "==",
          ";",
          ",",
          ".",
          "..",
          "/../",
          "//",
          "#",
          "?",
          "*",
          "+",
          "-",
          "--",
          "-0",
          "1e999",
          "1E-400",
          "0x10",
          "9".repeat(400),
          "NaN",
          "null",
          "true",
          "[]",
          "{}",
          "{n, plural, other {",
          "}}",
          "'{",
          "${jndi}",
          "a".repeat(300),
          ".b".repeat(200),
          "[0]".repeat(100),
          "((((((((((((((((",
          "and not ",
          "is blank",
          "\r\n",
          "\t",
          " ",
          "W/\"1\"",
          "\"1\", \"2\"",
          "+999999999-12-31T00:00:00Z",
          "0000-00-00",
          "24:00",
          "2026-02-30",
          "__proto__",
          "constructor",
          "_page",
          "lang",
          "-- ",
          "; DROP TABLE x");

  private static final List<String> METHODS =
      List.of(
          "GET", "POST", "PUT", "PATCH", "DELETE", "HEAD", "OPTIONS", "get", "TRACE", "LOCK", "");

  private static final List<String> PATHS =
      List.of(
          "/api/forms/vessel/records?q=heron&where=length%20%3E%2010&sort=name,-length&limit=5",
          "/api/forms/vessel/records?cursor=abc.def&limit=2",
          "/api/forms/vessel/records?where=matches(name,%22.*a.*%22)%20or%20name%20is%20blank",
          "/api/forms/vessel/records",
          "/api/forms/vessel/checks?fields=callSign,name",
          "/api/forms/visit/checks?hold=true&page=x",
          "/api/forms/visit/records",
          "/api/forms/visit/options/vessel?q=gr&berth=1",
          "/api/forms/vessel/samples?count=2&seed=7&wrong=true",
          "/api/forms/vessel?lang=de",
          "/api/forms/vessel/schema",
          "/api/forms/vessel/changes?record=1",
          "/api/changes?record=vessel/1&record=visit/2",
          "/api/forms/vessel/records/019a0000-0000-7000-8000-000000000000",
          "/api/forms/vessel/records/019a0000-0000-7000-8000-000000000000/versions?limit=2&before=9",
          "/api/attempts?since=2026-11-23T08:00:00Z&code=taken&field=callSign",
          "/api/log?what=publish&until=2026-11-23T08:00:00Z",
          "/api/files/preview",
          "/api/forms/vessel/preview",
          "/api/lists/quays/preview",
          "/api/texts/vessel/de",
          "/api/holds?form=vessel&page=x",
          "/api/session",
          "/sign-in?to=/forms",
          "/sign-out",
          "/forms?lang=es",
          "/forms/vessel?q=heron&sort=name&cursor=x",
          "/forms/vessel/new?name=Grey",
          "/forms/visit/new",
          "/forms/vessel/019a0000-0000-7000-8000-000000000000/edit",
          "/page/nodley.js",
          "/problems/taken",
          "/console/forms/vessel/records");

  /** Each with the body at the same place in {@link #BODIES}. */
  private static final List<String> TYPES =
      List.of(
          "application/json",
          "application/json; charset=utf-8",
          "application/x-www-form-urlencoded",
          "application/x-www-form-urlencoded",
          "application/merge-patch+json",
          "application/json",
          "application/json",
          "application/yaml",
          "multipart/form-data; boundary=----x",
          "text/plain");

  private static final List<String> BODIES =
      List.of(
          "{\"name\": \"Grey Heron\", \"callSign\": \"MQ7AB\", \"length\": 12.5}",
          "{\"vessel\": \"1\", \"crew\": [{\"name\": \"Ann\"}, {}], \"arrival\": \"2026-11-30\"}",
          "name=Grey+Heron&callSign=MQ7AB&length=12,5&_version=1",
          "vessel=1&crew[0].name=Ann&crew[1].name=Bob&arrival=30.11.2026",
          "{\"name\": null, \"length\": 13}",
          "{\"key\": \"guess\", \"to\": \"/forms\"}",
          "{\"files\": [{\"name\": \"a.form.yaml\", \"text\": \"form: a\\n"
              + "fields: {b: {type: text}}\"}]}",
          "form: vessel\nfields:\n  name: { type: text, pattern: \"[A-Z]+\", length: 1..20 }\n"
              + "rules:\n  - { when: name is blank, say: \"{n, plural, other {#}}\" }\n",
          "------x\r\nContent-Disposition: form-data; name=\"name\"\r\n\r\nHeron\r\n------x--\r\n",
          "Grey Heron");

  private static final List<String> HEADERS =
      List.of(
          "If-Match: \"1\"",
          "If-None-Match: W/\"abc\", *",
          "Idempotency-Key: k-1",
          "Accept-Language: de-CH, es;q=0.7, *;q=0.1",
          "Accept: text/html, application/json;q=0.5",
          "Accept-Encoding: br;q=1, gzip;q=0",
          "Cookie: nodley_session=abc; other=\"x\"",
          "Origin: https://harbour.example",
          "Sec-Fetch-Site: cross-site",
          "Access-Control-Request-Method: POST",
          "Last-Event-ID: 1f-7",
          "Range: bytes=0-1",
          "Forwarded: for=\"[2001:db8::1]:80\";proto=https",
          "X-Forwarded-For: 192.0.2.1, unknown",
          "Content-Encoding: gzip",
          "X-Request-Id: mine",
          "Authorization: Bearer guess",
          "Transfer-Encoding: chunked",
          "Content-Length: 3");

  private final String host;
  private final int port;
  private final Optional<String> key;
  private final TreeMap<Integer, AtomicLong> statuses = new TreeMap<>();

  StrangerFuzz(URI service, Optional<String> key) {
    this.host = service.getHost();
    this.port = service.getPort();
    this.key = key;
  }

  /** Sends so many, and tells what went wrong; nothing if nothing did. */
  List<String> run(long seed, int count) throws IOException {
    List<String> wrong = new ArrayList<>();
    for (int i = 0; i < count && wrong.size() < MOST_TOLD; i++) {
      byte[] request = request(new Random(seed * 1_000_003 + i));
      String answer = answer(request);
      int status = status(answer);
      statuses.computeIfAbsent(status, _ -> new AtomicLong()).incrementAndGet();
      if (!isFine(status, answer)) {
        wrong.add("case " + i + ": " + brief(answer) + "\n" + shown(request));
      }
    }
    return wrong;
  }

  /** How many answers there were of each status; 0 is a connection that was closed without one. */
  TreeMap<Integer, AtomicLong> statuses() {
    return statuses;
  }

  /**
   * A status of 0 is right for what is no HTTP, and nothing else: Tomcat hangs up on some of it.
   */
  private static boolean isFine(int status, String answer) {
    boolean told = status < 500 || status == 501 || status == 503 || status == 505;
    return told && !answer.contains("\tat ") && !answer.contains("Exception");
  }

  private byte[] request(Random random) {
    String method =
        random.nextInt(4) == 0 ? any(random, METHODS) : random.nextBoolean() ? "GET" : "POST";
    String path = any(random, PATHS);
    if (random.nextBoolean()) {
      // Mostly the query: a path that there is not is soon answered.
      int query = random.nextInt(5) == 0 ? 0 : path.indexOf('?') + 1;
      path =
          path.substring(0, query)
              + (query == 0 && random.nextInt(5) > 0
                  ? path
                  : oneWord(random, path.substring(query)));
    }
    List<String> headers = new ArrayList<>();
    headers.add("Host: " + host);
    headers.add("Connection: close");
    key.filter(_ -> random.nextInt(3) == 0)
        .ifPresent(it -> headers.add("Authorization: Bearer " + it));
    for (int i = random.nextInt(4); i > 0; i--) {
      String header = any(random, HEADERS);
      headers.add(random.nextBoolean() ? header : brokenValue(random, header));
    }
    byte[] body = new byte[0];
    if (!method.equals("GET") || random.nextInt(10) == 0) {
      // Mostly a body that its type promises.
      int kind = random.nextInt(TYPES.size());
      String type = TYPES.get(kind);
      headers.add(
          "Content-Type: " + (random.nextInt(10) == 0 ? oneLine(broken(random, type)) : type));
      body = body(random, random.nextInt(5) == 0 ? any(random, BODIES) : BODIES.get(kind));
      headers.add("Content-Length: " + body.length);
    }
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    bytes.writeBytes(
        (method + " " + path + " HTTP/1.1\r\n" + String.join("\r\n", headers) + "\r\n\r\n")
            .getBytes(
                random.nextInt(5) == 0 ? StandardCharsets.UTF_8 : StandardCharsets.ISO_8859_1));
    bytes.writeBytes(body);
    return bytes.toByteArray();
  }

  private static byte[] body(Random random, String text) {
    if (random.nextInt(20) == 0) {
      byte[] bytes = new byte[random.nextInt(200)];
      random.nextBytes(bytes);
      return bytes;
    }
    return (random.nextInt(5) == 0 ? text : broken(random, text)).getBytes(StandardCharsets.UTF_8);
  }

  private static String brokenValue(Random random, String header) {
    int colon = header.indexOf(':') + 2;
    return header.substring(0, colon) + oneLine(broken(random, header.substring(colon)));
  }

  private static String oneWord(Random random, String text) {
    return broken(random, text).replaceAll("[\\r\\n ]", random.nextInt(8) == 0 ? " " : "%20");
  }

  private static String oneLine(String text) {
    return text.replaceAll("[\\r\\n]", "~");
  }

  /**
   * A text after some changes: parts put in, left out, doubled, repeated without end, exchanged.
   */
  private static String broken(Random random, String text) {
    var broken = new StringBuilder(text);
    for (int i = 1 + random.nextInt(4); i > 0; i--) {
      int from = random.nextInt(broken.length() + 1);
      int to = Math.min(broken.length(), from + random.nextInt(12));
      switch (random.nextInt(6)) {
        case 0, 1 -> broken.insert(from, any(random, NASTY));
        case 2 -> broken.delete(from, to);
        case 3 -> broken.insert(to, broken.substring(from, to));
        case 4 -> broken.replace(from, to, any(random, NASTY));
        default -> {
          String part = broken.substring(from, to);
          int times = random.nextInt(10) == 0 ? 500 : random.nextInt(20);
          broken.insert(to, part.repeat(times));
        }
      }
    }
    return broken.toString();
  }

  private static <T> T any(Random random, List<T> list) {
    return list.get(random.nextInt(list.size()));
  }

  /** What came back; empty if the connection was closed without a word. */
  private String answer(byte[] request) throws IOException {
    try (Socket socket = new Socket(host, port)) {
      socket.setSoTimeout(TIMEOUT_MILLIS);
      try {
        socket.getOutputStream().write(request);
        socket.shutdownOutput();
        return read(socket.getInputStream());
      } catch (SocketTimeoutException e) {
        return "HTTP/1.1 599 no answer within " + TIMEOUT_MILLIS + " ms";
      } catch (IOException e) {
        // Closed while it was still being sent: that is an answer to what is no HTTP.
        return "";
      }
    }
  }

  /** All of it, or as much as says what it is: a stream of changes has no end. */
  private static String read(InputStream in) throws IOException {
    var text = new StringBuilder();
    byte[] chunk = new byte[65_536];
    for (int n = in.read(chunk); n >= 0; n = in.read(chunk)) {
      text.append(new String(chunk, 0, n, StandardCharsets.UTF_8));
      if (text.indexOf("text/event-stream") >= 0 || text.length() > 2_000_000) {
        break;
      }
    }
    return text.toString();
  }

  private static int status(String answer) {
    return answer.startsWith("HTTP/1.1 ") ? Integer.parseInt(answer.substring(9, 12)) : 0;
  }

  private static String brief(String answer) {
    return answer.substring(0, Math.min(600, answer.length()));
  }

  private static String shown(byte[] request) {
    String text = new String(request, StandardCharsets.ISO_8859_1);
    return text.substring(0, Math.min(2_000, text.length())).replace("\u0000", "\\0");
  }

  /** {@code StrangerFuzz ADDRESS KEY COUNT SEED}. */
  public static void main(String[] args) throws IOException {
    long begun = System.nanoTime();
    var fuzz = new StrangerFuzz(URI.create(args[0]), Optional.of(args[1]));
    List<String> wrong = fuzz.run(Long.parseLong(args[3]), Integer.parseInt(args[2]));
    wrong.forEach(System.out::println);
    System.out.printf(
        "%s requests, seed %s, %d s; answers by status: %s; wrong: %d%n",
        args[2],
        args[3],
        (System.nanoTime() - begun) / 1_000_000_000,
        fuzz.statuses(),
        wrong.size());
    System.exit(wrong.isEmpty() ? 0 : 1);
  }
}
