package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import nodley.service.limits.BodyMemory;
import org.springframework.core.MethodParameter;
import org.springframework.http.MediaType;
import org.springframework.http.converter.HttpMessageConverter;
import org.springframework.http.server.ServerHttpRequest;
import org.springframework.http.server.ServerHttpResponse;
import org.springframework.http.server.ServletServerHttpRequest;
import org.springframework.web.bind.annotation.ControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.ResponseBodyAdvice;

/** Releases the memory of a request's body before its answer is written. */
@ControllerAdvice
final class AnswerIsMade implements ResponseBodyAdvice<Object> {

  private final BodyMemory memory;

  AnswerIsMade(BodyMemory memory) {
    this.memory = memory;
  }

  @Override
  public boolean supports(
      MethodParameter returned, Class<? extends HttpMessageConverter<?>> converter) {
    return true;
  }

  @Override
  public Object beforeBodyWrite(
      Object body,
      MethodParameter returned,
      MediaType type,
      Class<? extends HttpMessageConverter<?>> converter,
      ServerHttpRequest request,
      ServerHttpResponse response) {
    HttpServletRequest servlet = ((ServletServerHttpRequest) request).getServletRequest();
    memory.release(servlet);
    return body;
  }
}
