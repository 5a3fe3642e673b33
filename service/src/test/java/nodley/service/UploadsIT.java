package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * A stock client of the tus protocol sends a file while the service is killed again and again.
 * {@code -Duploads=20} for the whole of it.
 */
class UploadsIT {

  private static final int KILLS = Integer.getInteger("uploads", 2);
  private static final int SIZE = 24 << 20;
  private static final Map<String, String> KEY = Map.of("NODLEY_ADMIN_KEY", RunningService.KEY);

  @TempDir private Path folder;

  /** How many bytes the client says that it has sent; less than none if it says something else. */
  private static long sent(String line) {
    return line.startsWith("sent ") ? Long.parseLong(line.substring("sent ".length())) : -1;
  }

  private Program serve(int port) {
    return Program.service(KEY, "serve", "--data", folder.resolve("data"), "--port", port);
  }

  @Test
  void aFileArrivesWholeHoweverOftenTheServiceIsKilled() throws Exception {
    Random random = new Random(7);
    byte[] bytes = new byte[SIZE];
    random.nextBytes(bytes);
    Path file = Files.write(folder.resolve("hull survey.bin"), bytes);
    Program service = serve(0);
    String address = service.ready();
    int port = URI.create(address).getPort();
    Wire wire = new Wire(address, Optional.of(RunningService.KEY));
    assertThat(wire.publish("survey", "form: survey\nfields: { report: { type: file } }").status())
        .isEqualTo(201);
    try (Program client =
        Program.node(
            "page/test/upload-with-tus.mjs",
            address,
            RunningService.KEY,
            "survey",
            "report",
            file)) {
      int[] places = random.ints(KILLS, 0, SIZE - (1 << 20)).sorted().toArray();
      for (int place : places) {
        client.line("sent " + place, line -> sent(line) >= place);
        // Somewhere in the bytes that come next.
        LockSupport.parkNanos(random.nextLong(TimeUnit.MILLISECONDS.toNanos(10)));
        service.kill();
        service = serve(port);
        service.ready();
      }
      String done = client.line("done ");
      String value = "upload:" + done.replaceFirst(".*/", "");
      JsonNode added =
          wire.add("survey", "{\"report\": \"%s\"}".formatted(value)).json().path("values");
      assertThat(added.path("report").path("name").asString()).isEqualTo("hull survey.bin");
      assertThat(added.path("report").path("sha256").asString())
          .isEqualTo(HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes)));
    } finally {
      service.close();
    }
  }
}
