package nodley.service.start;

import java.net.URL;
import nodley.service.Nodley;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.ImportAutoConfiguration;
import org.springframework.boot.autoconfigure.context.LifecycleAutoConfiguration;
import org.springframework.boot.autoconfigure.ssl.SslAutoConfiguration;
import org.springframework.boot.security.autoconfigure.SecurityAutoConfiguration;
import org.springframework.boot.security.autoconfigure.web.servlet.SecurityFilterAutoConfiguration;
import org.springframework.boot.security.autoconfigure.web.servlet.ServletWebSecurityAutoConfiguration;
import org.springframework.boot.tomcat.autoconfigure.servlet.TomcatServletWebServerAutoConfiguration;
import org.springframework.boot.webmvc.autoconfigure.DispatcherServletAutoConfiguration;
import org.springframework.boot.webmvc.autoconfigure.WebMvcAutoConfiguration;
import org.springframework.boot.webmvc.autoconfigure.error.ErrorMvcAutoConfiguration;
import org.springframework.context.annotation.ComponentScan;
import org.springframework.context.annotation.Configuration;

/**
 * Where Spring begins to look for beans. What it configures by itself is named, which saves it a
 * look at all that it could: half a second of each start.
 *
 * <p>The build finds the beans once and writes code that registers them (Spring's ahead-of-time
 * processing), since to read all classes for them takes a third of a start. Conditions on settings
 * are decided then, without any settings: none of Nodley's own beans has one.
 */
@Configuration(proxyBeanMethods = false)
@ComponentScan(basePackageClasses = Nodley.class)
@ImportAutoConfiguration({
  DispatcherServletAutoConfiguration.class,
  ErrorMvcAutoConfiguration.class,
  LifecycleAutoConfiguration.class,
  SecurityAutoConfiguration.class,
  SecurityFilterAutoConfiguration.class,
  ServletWebSecurityAutoConfiguration.class,
  SslAutoConfiguration.class,
  TomcatServletWebServerAutoConfiguration.class,
  WebMvcAutoConfiguration.class
})
public class Application {

  private static final String GENERATED = "spring.aot.enabled";

  /** Called by the build alone, which stops it as soon as it knows the beans. */
  public static void main(String[] arguments) {
    new SpringApplication(Application.class).run(arguments);
  }

  /**
   * Returns an application that takes the beans from the generated code, if it runs from a jar: all
   * of a jar was built at once, and classes in a folder may have been compiled since. The system
   * property {@code spring.aot.enabled} says otherwise.
   */
  static SpringApplication create() {
    if (System.getProperty(GENERATED) == null) {
      URL generated =
          Application.class.getResource("Application__ApplicationContextInitializer.class");
      // None, if Maven ran on a JDK before 25, which cannot compile it.
      boolean isBuilt = generated != null && "jar".equals(generated.getProtocol());
      System.setProperty(GENERATED, Boolean.toString(isBuilt));
    }
    var application = new SpringApplication(Application.class);
    // Spring would take the class whose "main" is running.
    application.setMainApplicationClass(Application.class);
    return application;
  }
}
