package nodley.issuer;

import java.util.List;
import java.util.Map;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.security.autoconfigure.UserDetailsServiceAutoConfiguration;

/**
 * Starts the stand-in issuer on loopback, for one service. Its keys and sessions are new at each
 * start.
 */
@SpringBootApplication(exclude = UserDetailsServiceAutoConfiguration.class)
public class Issuer {

  /** Begins the one line that says that it answers; its address follows. */
  private static final String READY = "The stand-in issuer is ready at ";

  /**
   * Starts it.
   *
   * @param arguments the port, and the address of the service whose people sign in here
   */
  public static void main(String[] arguments) {
    if (arguments.length != 2 || !arguments[0].matches("[0-9]{1,5}")) {
      System.err.println("Usage: java -jar nodley-issuer.jar PORT http://127.0.0.1:8420");
      System.exit(2);
    }
    String address = "http://127.0.0.1:" + arguments[0];
    var application = new SpringApplication(Issuer.class);
    application.setDefaultProperties(
        Map.of(
            "server.address",
            "127.0.0.1",
            "server.port",
            arguments[0],
            // Browsers tell hosts apart, not ports: the service has its own cookies.
            "server.servlet.session.cookie.name",
            "issuer_session",
            "spring.main.banner-mode",
            "off",
            "logging.level.root",
            "warn",
            "issuer.address",
            address,
            "issuer.service",
            arguments[1]));
    application.run();
    System.out.println(READY + address);
  }

  /** Somebody who signs in here, as tokens tell of them. */
  record Person(String id, String name, String title, List<String> groups) {

    String email() {
      return id + "@marrow-quay.example";
    }
  }

  /** The people of Marrow Quay. */
  static final List<Person> PEOPLE =
      List.of(
          new Person("ida", "Ida Penhale", "Harbour master", List.of("Harbour Masters")),
          new Person("otto", "Otto Brandt", "Clerk", List.of("Harbour Clerks")),
          new Person("mara", "Mara Quill", "Skipper", List.of("Skippers")),
          new Person("jonas", "Jonas Reef", "Skipper", List.of("Skippers")));
}
