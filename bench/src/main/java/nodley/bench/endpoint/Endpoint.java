package nodley.bench.endpoint;

import java.nio.file.Path;
import java.util.Map;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.context.support.GenericApplicationContext;

/** Starts the hand-written endpoint: {@code Endpoint FILE}. */
@SpringBootApplication
public class Endpoint {

  public static void main(String[] args) {
    var application = new SpringApplication(Endpoint.class);
    application.addInitializers(
        context ->
            ((GenericApplicationContext) context)
                .registerBean(Vessels.class, () -> new Vessels(Path.of(args[0]))));
    // As the service has them.
    application.setDefaultProperties(
        Map.of(
            "server.address", "127.0.0.1",
            "server.port", "0",
            "spring.threads.virtual.enabled", "true",
            "spring.main.banner-mode", "off",
            "spring.main.log-startup-info", "false"));
    String port = application.run().getEnvironment().getProperty("local.server.port");
    System.out.println("Endpoint is ready at http://127.0.0.1:" + port);
  }
}
