package nodley.service.outside;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.stream.IntStream;
import nodley.service.limits.OutsideAddress;
import nodley.service.outside.OutsideCalls.Call;
import org.junit.jupiter.api.Test;

/** Calls of one who takes connections, and says nothing. */
class OutsideCallsTest {

  @Test
  void whoSaysNothingIsToldTheSameEachTime() throws IOException {
    try (ServerSocket silent = new ServerSocket(0, 4_096, InetAddress.getLoopbackAddress());
        OutsideCalls calls = new OutsideCalls(Clock.systemUTC())) {
      String url = "http://127.0.0.1:" + silent.getLocalPort() + "/";
      Call call =
          new Call(
              new OutsideAddress(url, "", "", Map.of(), true),
              "id",
              "application/json",
              new byte[2],
              Duration.ofMillis(5));
      assertThat(
              IntStream.range(0, 500)
                  .mapToObj(_ -> catchThrowableOfType(IOException.class, () -> calls.post(call)))
                  .map(OutsideCalls::said))
          .containsOnly("no answer within 5 ms");
    }
  }
}
