package nodley.bench.store;

import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Asks two services the same, one with few records and one with many, in turn, one question at a
 * time; prints how long the hundredth part of the answers took at least (p99), and the ratio.
 */
final class Ask {

  private static final Pattern NEXT = Pattern.compile("\"next\":\"([^\"]+)\"");
  private static final HttpClient HTTP =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

  private final String at;
  private final long rows;
  private final Random random = new Random(20261123);
  private final String deep;
  private long next;

  /** A kind of question. */
  private enum Kind {
    CHECK("check of two unique fields"),
    ADD("add"),
    WORD("q, two words of many vessels"),
    RARE("q, a word of one vessel"),
    WHERE("where on an indexed field"),
    FIRST("first page"),
    DEEP("page 10 000, or the last");

    private final String words;

    Kind(String words) {
      this.words = words;
    }
  }

  private Ask(String at, long rows) throws IOException, InterruptedException {
    this.at = at;
    this.rows = rows;
    this.next = rows + 1;
    this.deep = deep();
  }

  /**
   * Asks.
   *
   * @param args the address and the number of records of the one, of the other, then how many of
   *     each kind
   */
  public static void main(String[] args) throws IOException, InterruptedException {
    Ask few = new Ask(args[0], Long.parseLong(args[1]));
    Ask many = new Ask(args[2], Long.parseLong(args[3]));
    int times = Integer.parseInt(args[4]);
    Map<Kind, List<Long>> ofFew = new LinkedHashMap<>();
    Map<Kind, List<Long>> ofMany = new LinkedHashMap<>();
    // The first round is for the JVMs to get warm.
    for (int i = -times / 2; i < times; i++) {
      for (Kind kind : Kind.values()) {
        long a = few.ask(kind);
        long b = many.ask(kind);
        if (i >= 0) {
          ofFew.computeIfAbsent(kind, _ -> new ArrayList<>()).add(a);
          ofMany.computeIfAbsent(kind, _ -> new ArrayList<>()).add(b);
        }
      }
    }
    System.out.printf(
        "%-32s %10s %10s %8s %10s %10s %8s%n",
        "milliseconds", "p99 few", "p99 many", "ratio", "p50 few", "p50 many", "ratio");
    for (Kind kind : Kind.values()) {
      double a = at(ofFew.get(kind), 0.99);
      double b = at(ofMany.get(kind), 0.99);
      double c = at(ofFew.get(kind), 0.5);
      double d = at(ofMany.get(kind), 0.5);
      System.out.printf(
          "%-32s %10.2f %10.2f %8.2f %10.2f %10.2f %8.2f%n", kind.words, a, b, b / a, c, d, d / c);
    }
  }

  private static double at(List<Long> nanos, double part) {
    List<Long> sorted = new ArrayList<>(nanos);
    Collections.sort(sorted);
    return sorted.get((int) Math.ceil(part * sorted.size()) - 1) / 1e6;
  }

  private long ask(Kind kind) throws IOException, InterruptedException {
    long some = 1 + (random.nextLong() >>> 1) % rows;
    String records = "/api/forms/vessel/records";
    HttpRequest request =
        switch (kind) {
          case CHECK ->
              post(
                  "/api/forms/vessel/checks?fields=callSign,officialNumber",
                  // Every second one is taken.
                  Vessels.json(some % 2 == 0 ? some : some + 2 * rows));
          case ADD -> post(records, Vessels.json(next++));
          case WORD -> get(records + "?q=" + Vessels.first(some) + "%20" + Vessels.second(some));
          case RARE -> get(records + "?q=" + Vessels.officialNumber(some));
          case WHERE ->
              get(
                  records
                      + "?where="
                      + encoded("officialNumber = \"" + Vessels.officialNumber(some) + "\""));
          case FIRST -> get(records);
          case DEEP -> get(records + "?cursor=" + deep);
        };
    long began = System.nanoTime();
    HttpResponse<String> reply = HTTP.send(request, HttpResponse.BodyHandlers.ofString());
    long took = System.nanoTime() - began;
    boolean found =
        switch (kind) {
          case CHECK -> reply.statusCode() == 200;
          case ADD -> reply.statusCode() == 201;
          default -> reply.statusCode() == 200 && reply.body().contains("\"values\"");
        };
    if (!found) {
      throw new IllegalStateException(kind + ": " + reply.statusCode() + " " + reply.body());
    }
    return took;
  }

  /** The cursor of page 10 000, which is walked to; of the last page, if there are fewer. */
  private String deep() throws IOException, InterruptedException {
    String cursor = "";
    for (int page = 1; page < 10_000; page++) {
      String query = cursor.isEmpty() ? "" : "?cursor=" + cursor;
      Matcher found =
          NEXT.matcher(
              HTTP.send(
                      get("/api/forms/vessel/records" + query),
                      HttpResponse.BodyHandlers.ofString())
                  .body());
      if (!found.find()) {
        break;
      }
      cursor = found.group(1);
    }
    return cursor;
  }

  private HttpRequest get(String path) {
    return HttpRequest.newBuilder(URI.create(at + path)).build();
  }

  private HttpRequest post(String path, String json) {
    return HttpRequest.newBuilder(URI.create(at + path))
        .header("Content-Type", "application/json")
        .POST(HttpRequest.BodyPublishers.ofString(json))
        .build();
  }

  private static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }
}
