package nodley.service.caller;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.springframework.web.filter.OncePerRequestFilter;

/** Recognises the caller for what follows in the chain. */
final class CallerFilter extends OncePerRequestFilter {

  private final Recognition recognition;
  private final CrossOrigin crossOrigin;

  CallerFilter(Recognition recognition, CrossOrigin crossOrigin) {
    this.crossOrigin = crossOrigin;
    this.recognition = recognition;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    crossOrigin.write(request, response);
    if (crossOrigin.answered(request, response)) {
      return;
    }
    recognition.recognise(request);
    try {
      chain.doFilter(request, response);
    } finally {
      recognition.forget();
    }
  }
}
