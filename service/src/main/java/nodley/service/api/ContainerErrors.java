package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.OptionalInt;
import java.util.UUID;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.service.problem.ProblemWriter;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.core.StandardHost;
import org.apache.catalina.valves.ErrorReportValve;
import org.springframework.boot.tomcat.TomcatContextCustomizer;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.boot.webmvc.error.ErrorController;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * Answers errors that never reach a controller (malformed requests, errors of the container) as
 * problems too.
 */
@Configuration(proxyBeanMethods = false)
class ContainerErrors {

  private static final int MAX_LANGUAGES = 10_000;

  /** Requests that Tomcat itself turns away, such as one whose line cannot be parsed. */
  public static final class Valve extends ErrorReportValve {
    @Override
    protected void report(Request request, Response response, Throwable throwable) {
      if (response.getStatus() < 400
          || response.getContentWritten() > 0
          || !response.setErrorReported()) {
        return;
      }
      try {
        int status = tooMuch(request, throwable).orElse(response.getStatus());
        response.setStatus(status);
        byte[] body = Json.bytes(of(status).members());
        response.setHeader("X-Request-Id", UUID.randomUUID().toString());
        response.setContentType("application/problem+json");
        response.setContentLength(body.length);
        response.getOutputStream().write(body);
        response.finishResponse();
      } catch (IOException e) {
        // The client is gone.
      }
    }
  }

  /** Tomcat has one status for all that it cannot read; what was only too long has its own. */
  private static OptionalInt tooMuch(Request request, Throwable throwable) {
    String message = throwable == null ? "" : String.valueOf(throwable.getMessage());
    if (!message.contains("too large") && !message.contains("too long")) {
      return OptionalInt.empty();
    }
    // Where it did not even get to the end of the address, that is what is too long.
    boolean line = request.getCoyoteRequest().requestURI().isNull();
    return OptionalInt.of(line ? 414 : 431);
  }

  /** What the servlet container forwards to its error page. */
  @RestController
  static class Errors implements ErrorController {

    private final ProblemWriter writer;

    Errors(ProblemWriter writer) {
      this.writer = writer;
    }

    @Needs(Right.NOTHING)
    @RequestMapping("/error")
    void tell(HttpServletRequest request, HttpServletResponse response) throws IOException {
      Object status = request.getAttribute("jakarta.servlet.error.status_code");
      writer.write(of(status instanceof Integer code ? code : 404), request, response);
    }
  }

  @Bean
  WebServerFactoryCustomizer<TomcatServletWebServerFactory> problemsFromTomcat() {
    TomcatContextCustomizer valve =
        context ->
            ((StandardHost) context.getParent()).setErrorReportValveClass(Valve.class.getName());
    return factory -> {
      factory.addContextCustomizers(valve);
      // A request with more languages than this would fail; a header has room for fewer.
      factory.addConnectorCustomizers(connector -> connector.setMaxLocaleCount(MAX_LANGUAGES));
    };
  }

  private static Problem of(int status) {
    HttpStatus known = HttpStatus.resolve(status);
    String reason = known == null ? "The request failed" : known.getReasonPhrase();
    return switch (status) {
      case 400 ->
          Problem.of(400, "bad-request", "The request cannot be read", "It is not proper HTTP.");
      case 404 -> Problem.of(404, "no-such-path", "There is nothing here", "");
      case 414 -> Problem.of(414, "too-long", "The address is too long", "");
      case 431 -> Problem.of(431, "too-large", "The headers are too large", "");
      case 500 -> Problem.of(500, "failed", "This is our fault", "Something went wrong inside.");
      default -> Problem.of(status, "http", reason, "");
    };
  }
}
