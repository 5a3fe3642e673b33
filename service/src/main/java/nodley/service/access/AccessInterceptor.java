package nodley.service.access;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import nodley.core.form.Form;
import nodley.store.form.PublishedForm;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.MethodParameter;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.support.WebDataBinderFactory;
import org.springframework.web.context.request.NativeWebRequest;
import org.springframework.web.method.HandlerMethod;
import org.springframework.web.method.support.HandlerMethodArgumentResolver;
import org.springframework.web.method.support.ModelAndViewContainer;
import org.springframework.web.servlet.HandlerInterceptor;
import org.springframework.web.servlet.config.annotation.InterceptorRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Checks the right that a mapping {@link Needs} before it is called, and hands it the form: to a
 * parameter of type {@link PublishedForm} or {@link Form}.
 */
@Configuration(proxyBeanMethods = false)
class AccessInterceptor
    implements HandlerInterceptor, HandlerMethodArgumentResolver, WebMvcConfigurer {

  private static final String FORM = AccessInterceptor.class.getName() + ".form";

  private final AccessCheck access;

  AccessInterceptor(AccessCheck access) {
    this.access = access;
  }

  @Override
  public void addInterceptors(InterceptorRegistry registry) {
    registry.addInterceptor(this);
  }

  @Override
  public void addArgumentResolvers(List<HandlerMethodArgumentResolver> resolvers) {
    resolvers.add(this);
  }

  /**
   * Checks the right.
   *
   * @throws IllegalStateException if the mapping declares none: nothing is open by oversight
   */
  @Override
  public boolean preHandle(HttpServletRequest request, HttpServletResponse response, Object handler)
      throws IOException {
    // Spring's own answer to OPTIONS is no mapping, and tells nothing of forms.
    if (handler instanceof HandlerMethod method
        && method.hasMethodAnnotation(RequestMapping.class)) {
      Needs needs = method.getMethod().getAnnotation(Needs.class);
      if (needs == null) {
        throw new IllegalStateException(method + " does not declare what it @Needs.");
      }
      access.check(needs.value(), request).ifPresent(form -> request.setAttribute(FORM, form));
    }
    return true;
  }

  @Override
  public boolean supportsParameter(MethodParameter parameter) {
    return parameter.getParameterType() == PublishedForm.class
        || parameter.getParameterType() == Form.class;
  }

  @Override
  public Object resolveArgument(
      MethodParameter parameter,
      ModelAndViewContainer container,
      NativeWebRequest request,
      WebDataBinderFactory binders) {
    PublishedForm form = (PublishedForm) request.getAttribute(FORM, NativeWebRequest.SCOPE_REQUEST);
    return parameter.getParameterType() == Form.class ? form.form() : form;
  }
}
