package nodley.service.operator;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import nodley.core.value.Wellformed;
import nodley.service.caller.Caller;
import nodley.store.Store;
import nodley.store.access.OperatorLog;
import org.springframework.context.annotation.Configuration;
import org.springframework.web.method.HandlerMethod;
import org.springframework.web.servlet.HandlerInterceptor;
import org.springframework.web.servlet.ModelAndView;
import org.springframework.web.servlet.config.annotation.InterceptorRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Writes the calls of {@link Logged} mappings to the operator's log after they are answered, if
 * they succeeded. Names and addresses alone are written, never values.
 */
@Configuration(proxyBeanMethods = false)
public class LoggedCalls implements HandlerInterceptor, WebMvcConfigurer {

  private static final String API = "/api/";
  private static final String CALLER = LoggedCalls.class.getName() + ".caller";
  private static final String SUBJECT = LoggedCalls.class.getName() + ".subject";

  private final OperatorLog log;

  LoggedCalls(Store store) {
    this.log = store.operatorLog();
  }

  @Override
  public void addInterceptors(InterceptorRegistry registry) {
    registry.addInterceptor(this);
  }

  /** Who signs in is known only afterwards: the controller names them. */
  public static void by(HttpServletRequest request, String name) {
    request.setAttribute(CALLER, name);
  }

  /** What it was done to, where the path does not tell it. */
  public static void to(HttpServletRequest request, String subject) {
    request.setAttribute(SUBJECT, subject);
  }

  @Override
  public void postHandle(
      HttpServletRequest request,
      HttpServletResponse response,
      Object handler,
      ModelAndView modelAndView) {
    Logged logged =
        handler instanceof HandlerMethod method ? method.getMethodAnnotation(Logged.class) : null;
    if (logged != null && response.getStatus() < 400) {
      String who =
          request.getAttribute(CALLER) instanceof String name ? name : Caller.current().name();
      log.add(who, logged.value(), subject(request), request.getRemoteAddr());
    }
  }

  private static String subject(HttpServletRequest request) {
    if (request.getAttribute(SUBJECT) instanceof String subject) {
      return subject;
    }
    String path = request.getRequestURI();
    return Wellformed.of(path.startsWith(API) ? path.substring(API.length()) : path);
  }
}
