package nodley.bench.store;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.CompletableFuture;

/** Reads pages, one after the other, while a unique index is made over all records. */
final class Reading {

  private static final HttpClient HTTP =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

  private Reading() {}

  /**
   * Publishes the form with one more unique, and reads until that is done.
   *
   * @param args the address, and the form file
   */
  public static void main(String[] args) throws IOException, InterruptedException {
    String file =
        Files.readString(Path.of(args[1])) + "unique:\n  - { fields: [name, callSign] }\n";
    HttpRequest page =
        HttpRequest.newBuilder(URI.create(args[0] + "/api/forms/vessel/records")).build();
    HttpRequest publish =
        HttpRequest.newBuilder(URI.create(args[0] + "/api/forms/vessel"))
            .header("Content-Type", "application/yaml")
            .header("Authorization", "Bearer key-of-the-bench")
            .PUT(HttpRequest.BodyPublishers.ofString(file))
            .build();
    long began = System.nanoTime();
    CompletableFuture<HttpResponse<String>> published =
        HTTP.sendAsync(publish, HttpResponse.BodyHandlers.ofString());
    long longest = 0;
    int read = 0;
    while (!published.isDone()) {
      long from = System.nanoTime();
      int status = HTTP.send(page, HttpResponse.BodyHandlers.discarding()).statusCode();
      if (status != 200) {
        throw new IllegalStateException("a page was answered " + status);
      }
      longest = Math.max(longest, System.nanoTime() - from);
      read++;
    }
    if (published.join().statusCode() != 200) {
      throw new IllegalStateException(published.join().body());
    }
    System.out.printf(
        "index over all made in %.1f s; %,d pages were read meanwhile, the slowest in %.0f ms%n",
        (System.nanoTime() - began) / 1e9, read, longest / 1e6);
  }
}
