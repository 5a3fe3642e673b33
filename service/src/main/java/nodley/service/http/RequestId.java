package nodley.service.http;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.UUID;
import java.util.concurrent.ThreadLocalRandom;
import org.slf4j.MDC;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/** Gives every request an id that its reply ({@code X-Request-Id}) and the log have. */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class RequestId extends OncePerRequestFilter {

  static final String HEADER = "X-Request-Id";

  /** The container's error page is part of the same exchange, or all that there is of it. */
  @Override
  protected boolean shouldNotFilterErrorDispatch() {
    return false;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    String given = response.getHeader(HEADER);
    String id = given == null ? next() : given;
    response.setHeader(HEADER, id);
    MDC.put("request", id);
    try {
      chain.doFilter(request, response);
    } finally {
      MDC.remove("request");
    }
  }

  /**
   * A UUIDv7 (RFC 9562, section 5.7). It names, and guards nothing: it need not be hard to guess;
   * and the log finds its place faster if what comes later is greater.
   */
  private static String next() {
    ThreadLocalRandom random = ThreadLocalRandom.current();
    long time = System.currentTimeMillis() << 16 | 0x7000 | random.nextInt(0x1000);
    return new UUID(time, random.nextLong() >>> 2 | Long.MIN_VALUE).toString();
  }
}
