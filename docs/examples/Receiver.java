// Takes deliveries of Nodley. SECRET=whsec_… PORT=9000 java Receiver.java
import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Instant;
import java.util.Base64;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

public class Receiver {

  // Yours is a table: a delivery may come twice, under the same id.
  private static final Set<String> SEEN = ConcurrentHashMap.newKeySet();

  public static void main(String[] args) throws Exception {
    String secret = System.getenv("SECRET").replace("whsec_", "");
    byte[] key = Base64.getDecoder().decode(secret);
    int port = Integer.parseInt(System.getenv("PORT"));
    HttpServer server = HttpServer.create(new InetSocketAddress("127.0.0.1", port), 0);
    server.createContext(
        "/",
        exchange -> {
          byte[] body = exchange.getRequestBody().readAllBytes();
          String id = exchange.getRequestHeaders().getFirst("webhook-id");
          String at = exchange.getRequestHeaders().getFirst("webhook-timestamp");
          String signatures = exchange.getRequestHeaders().getFirst("webhook-signature");
          boolean good = id != null && at != null && signatures != null;
          if (good && isSigned(key, id, at, signatures, body)) {
            if (SEEN.add(id)) {
              // A CloudEvent in JSON: read it by the library that you have.
              System.out.println(new String(body, StandardCharsets.UTF_8));
            }
            // Anything but 2xx has it sent again later.
            exchange.sendResponseHeaders(204, -1);
          } else {
            exchange.sendResponseHeaders(401, -1);
          }
          exchange.close();
        });
    server.start();
    System.out.println("ready at " + server.getAddress().getPort());
  }

  private static boolean isSigned(byte[] key, String id, String at, String signatures, byte[] body) {
    // An old call that somebody sends again.
    if (!at.matches("[0-9]{1,12}")
        || Math.abs(Instant.now().getEpochSecond() - Long.parseLong(at)) > 300) {
      return false;
    }
    try {
      Mac mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec(key, "HmacSHA256"));
      mac.update((id + "." + at + ".").getBytes(StandardCharsets.UTF_8));
      String right = "v1," + Base64.getEncoder().encodeToString(mac.doFinal(body));
      for (String each : signatures.split(" ")) {
        if (MessageDigest.isEqual(each.getBytes(), right.getBytes())) {
          return true;
        }
      }
      return false;
    } catch (java.security.GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }
}
