package nodley.bench;

import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * Measures how long a live check takes beside each of the attacks of docs/reliability.md: one
 * caller checks over and over, while eight attackers do their worst. Prints medians and 99th
 * percentiles, beside those of an idle service in the same run, and the service's memory.
 */
public final class Attacks {

  private static final int ATTACKERS = 8;
  private static final int RECORDS = 5_000;
  private static final String FORM =
      """
      form: attacked
      access: { add: anyone, see: anyone }
      fields:
        name: { type: text, unique: true }
        note: { type: text, control: textarea, length: ..1000000 }
        pw: { type: secret }
        crew: { type: rows, count: ..12, fields: { name: { type: text } } }
      """;

  private final URI service;
  private final String key;
  private final Path status;
  private final int seconds;
  private final HttpClient http =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

  /** One thing that an attacker does, over and over; true if it was answered. */
  private interface Attack {
    boolean run() throws IOException, InterruptedException;
  }

  private record Measured(double median, double p99) {}

  private Attacks(URI service, String key, long pid, int seconds) {
    this.service = service;
    this.key = key;
    this.status = Path.of("/proc", Long.toString(pid), "status");
    this.seconds = seconds;
  }

  /** {@code Attacks ADDRESS KEY PID SECONDS}. */
  public static void main(String[] args) throws Exception {
    new Attacks(URI.create(args[0]), args[1], Long.parseLong(args[2]), Integer.parseInt(args[3]))
        .run();
  }

  private void run() throws Exception {
    publishAndFill();
    measure(2 * seconds);
    Measured idle = measure(seconds);
    System.out.printf(
        "%-34s %10s %10s %10s %8s %10s%n",
        "beside", "answers/s", "median ms", "p99 ms", "x idle", "memory MiB");
    print("nobody", 0, idle, idle);
    for (Map.Entry<String, Attack> attack : attacks().entrySet()) {
      beside(attack.getKey(), attack.getValue(), idle);
    }
    holdOpen(idle);
  }

  private void beside(String name, Attack attack, Measured idle) throws Exception {
    var over = new AtomicBoolean();
    var answered = new AtomicLong();
    try (ExecutorService attackers = Executors.newFixedThreadPool(ATTACKERS)) {
      for (int i = 0; i < ATTACKERS; i++) {
        var _ =
            attackers.submit(
                () -> {
                  while (!over.get()) {
                    if (attack.run()) {
                      answered.incrementAndGet();
                    }
                  }
                  return null;
                });
      }
      measure(1);
      long before = answered.get();
      Measured measured = measure(seconds);
      print(name, (answered.get() - before) / (double) seconds, measured, idle);
      over.set(true);
    }
  }

  private Map<String, Attack> attacks() {
    String marks = "a" + "\u0301\u0316".repeat(40_000);
    String names =
        IntStream.range(0, 8_000)
            .mapToObj(i -> "\"n" + i + "\":1")
            .collect(Collectors.joining(","));
    String rows =
        IntStream.range(0, 19_900)
            .mapToObj(i -> "crew[" + i + "].name=a")
            .collect(Collectors.joining("&"));
    String costly =
        "/api/forms/attacked/records?limit=1&sort=note,name&where=matches(note,%22.*zzz.*%22)";
    Map<String, Attack> attacks = new LinkedHashMap<>();
    attacks.put(
        "marks upon marks",
        () -> post("/api/forms/attacked/checks", "{\"note\":\"" + marks + "\"}"));
    attacks.put("costly lists", () -> get(costly));
    attacks.put("costly lists, hung up on", () -> hangUp(costly));
    attacks.put(
        "searches of eight words", () -> get("/api/forms/attacked/records?q=a+b+c+d+e+f+g+h"));
    attacks.put(
        "passwords", () -> post("/api/forms/attacked/records", "{\"pw\":\"correct horse\"}"));
    attacks.put(
        "refused bodies of 900 kB",
        () ->
            post(
                "/api/forms/attacked/records",
                "{\"name\":7,\"note\":\"" + "x".repeat(900_000) + "\"}"));
    attacks.put(
        "8 000 unknown names", () -> post("/api/forms/attacked/records", "{" + names + "}"));
    attacks.put(
        "19 900 rows to a page",
        () -> send("/forms/attacked/new", "application/x-www-form-urlencoded", rows));
    attacks.put("guesses of keys", () -> guess());
    return attacks;
  }

  /** A thousand connections of another address that have sent half of a body, and no more. */
  private void holdOpen(Measured idle) throws Exception {
    List<Socket> held = new ArrayList<>();
    try {
      for (int i = 0; i < 1_000; i++) {
        Socket socket =
            new Socket(service.getHost(), service.getPort(), InetAddress.getByName("127.0.0.9"), 0);
        held.add(socket);
        write(
            socket,
            "POST /api/forms/attacked/records HTTP/1.1\r\n"
                + "Host: x\r\n"
                + "Content-Type: application/json\r\n"
                + "Content-Length: 900000\r\n\r\n"
                + "{\"note\": \""
                + "x".repeat(8_000));
      }
      print("1 000 half-sent bodies", 0, measure(seconds), idle);
    } finally {
      for (Socket socket : held) {
        socket.close();
      }
    }
  }

  private void publishAndFill() throws Exception {
    HttpRequest publish =
        request("/api/forms/attacked")
            .header("Authorization", "Bearer " + key)
            .header("Content-Type", "application/yaml")
            .PUT(HttpRequest.BodyPublishers.ofString(FORM))
            .build();
    int published = http.send(publish, HttpResponse.BodyHandlers.discarding()).statusCode();
    if (published != 201) {
      throw new IllegalStateException("The form was answered with " + published + ".");
    }
    try (ExecutorService senders = Executors.newFixedThreadPool(16)) {
      for (int i = 0; i < RECORDS; i++) {
        String body = "{\"name\":\"n" + i + "\",\"note\":\"" + "lorem ipsum ".repeat(40) + "\"}";
        var _ = senders.submit(() -> post("/api/forms/attacked/records", body));
      }
    }
  }

  /** Checks, one after the other. */
  private Measured measure(int seconds) throws IOException, InterruptedException {
    List<Long> took = new ArrayList<>();
    long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(seconds);
    for (int i = 0; System.nanoTime() < end; i++) {
      long begun = System.nanoTime();
      HttpRequest check =
          request("/api/forms/attacked/checks?fields=name")
              .header("Authorization", "Bearer " + key)
              .header("Content-Type", "application/json")
              .POST(HttpRequest.BodyPublishers.ofString("{\"name\":\"n" + i + "\"}"))
              .build();
      int answer = http.send(check, HttpResponse.BodyHandlers.discarding()).statusCode();
      if (answer != 200) {
        throw new IllegalStateException("A check was answered with " + answer + ".");
      }
      took.add(System.nanoTime() - begun);
    }
    long[] sorted = took.stream().mapToLong(it -> it).sorted().toArray();
    return new Measured(at(sorted, 0.5), at(sorted, 0.99));
  }

  private static double at(long[] sorted, double part) {
    return sorted[(int) Math.min(sorted.length - 1L, (long) (sorted.length * part))] / 1e6;
  }

  private void print(String name, double answers, Measured measured, Measured idle)
      throws IOException {
    String resident =
        Files.readAllLines(status).stream()
            .filter(line -> line.startsWith("VmRSS"))
            .findFirst()
            .map(line -> line.replaceAll("[^0-9]", ""))
            .orElse("0");
    System.out.printf(
        "%-34s %10.0f %10.1f %10.1f %8.1f %10d%n",
        name,
        answers,
        measured.median(),
        measured.p99(),
        measured.p99() / idle.p99(),
        Long.parseLong(resident) / 1_024);
  }

  private HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(service.resolve(path));
  }

  private boolean post(String path, String json) throws IOException, InterruptedException {
    return send(path, "application/json", json);
  }

  private boolean send(String path, String type, String body)
      throws IOException, InterruptedException {
    return answered(
        request(path)
            .header("Content-Type", type)
            .POST(HttpRequest.BodyPublishers.ofString(body, StandardCharsets.UTF_8)));
  }

  private boolean get(String path) throws IOException, InterruptedException {
    return answered(request(path));
  }

  private boolean guess() throws IOException, InterruptedException {
    return answered(
        request("/api/session").header("Authorization", "Bearer guess" + System.nanoTime()));
  }

  private boolean answered(HttpRequest.Builder request) throws IOException, InterruptedException {
    return http.send(request.build(), HttpResponse.BodyHandlers.discarding()).statusCode() < 500;
  }

  private boolean hangUp(String path) throws IOException, InterruptedException {
    try (Socket socket = new Socket(service.getHost(), service.getPort())) {
      write(socket, "GET " + path + " HTTP/1.1\r\nHost: x\r\n\r\n");
      Thread.sleep(20);
    }
    return true;
  }

  private static void write(Socket socket, String text) throws IOException {
    socket.getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
    socket.getOutputStream().flush();
  }
}
