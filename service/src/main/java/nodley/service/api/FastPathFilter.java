package nodley.service.api;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpFilter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.service.access.AccessCheck;
import nodley.service.access.Right;
import nodley.service.caller.Authenticator;
import nodley.service.caller.CrossOrigin;
import nodley.service.caller.SafeHeaders;
import nodley.service.http.Reply;
import nodley.service.limits.BodyMemory;
import nodley.service.problem.Problems;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;

/**
 * Calls RecordsController directly for POST /api/forms/{form}/checks and /records, past Spring
 * Security and Spring MVC, because they cost more than a check. It repeats what they do for these
 * calls: security headers, CORS, authentication, rights, problems. Change it together with {@link
 * nodley.service.caller.SecurityConfig} and {@link nodley.service.caller.CallerFilter}. Filters
 * ordered after it do not see these calls.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 2)
class FastPathFilter extends HttpFilter {

  private static final long serialVersionUID = 1;
  private static final Pattern CALL = Pattern.compile("/api/forms/([a-z0-9-]+)/(checks|records)");
  private static final Right CHECK = AccessCheck.declared(RecordsController.class, "check");
  private static final Right ADD = AccessCheck.declared(RecordsController.class, "add");

  private final transient Authenticator authenticator;
  private final transient CrossOrigin crossOrigin;
  private final transient SafeHeaders headers;
  private final transient BodyMemory memory;
  private final transient AccessCheck access;
  private final transient RecordsController records;
  private final transient Problems problems;

  FastPathFilter(
      Authenticator authenticator,
      CrossOrigin crossOrigin,
      SafeHeaders headers,
      BodyMemory memory,
      AccessCheck access,
      RecordsController records,
      Problems problems) {
    this.crossOrigin = crossOrigin;
    this.headers = headers;
    this.memory = memory;
    this.authenticator = authenticator;
    this.access = access;
    this.records = records;
    this.problems = problems;
  }

  @Override
  protected void doFilter(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws IOException, ServletException {
    Matcher call = CALL.matcher(request.getRequestURI());
    if (!request.getMethod().equals("POST") || !call.matches()) {
      chain.doFilter(request, response);
      return;
    }
    headers.write(request, response);
    crossOrigin.write(request, response);
    try {
      authenticator.recognise(request);
      String form = call.group(1);
      ResponseEntity<byte[]> reply =
          call.group(2).equals("checks")
              ? records.check(access.form(form, CHECK, request), request)
              : records.add(access.form(form, ADD, request), request);
      memory.release(request);
      Reply.write(reply, response);
    } catch (RuntimeException e) {
      problems.tell(e, request, response);
    } finally {
      authenticator.forget();
    }
  }
}
