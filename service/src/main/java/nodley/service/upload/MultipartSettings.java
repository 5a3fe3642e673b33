package nodley.service.upload;

import jakarta.servlet.MultipartConfigElement;
import nodley.service.limits.Limits;
import nodley.store.Store;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** How Tomcat reads {@code multipart/form-data}: what is long goes to the data folder's disk. */
@Configuration(proxyBeanMethods = false)
class MultipartSettings {

  /** Texts up to here, in bytes, stay in memory. */
  private static final int SHORT = 8_192;

  @Bean
  MultipartConfigElement multipartConfig(Store store, Limits limits) {
    return new MultipartConfigElement(
        store.uploads().contents().parts().toAbsolutePath().toString(),
        limits.upload().size().toBytes(),
        limits.upload().waitingSize().toBytes(),
        SHORT);
  }
}
