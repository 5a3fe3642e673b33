package nodley.service.page;

import java.util.concurrent.TimeUnit;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.CacheControl;
import org.springframework.web.servlet.config.annotation.ResourceHandlerRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/** Serves scripts and styles, in the compressed forms that their build made. */
@Configuration
class BuiltFiles implements WebMvcConfigurer {

  private static final String ROOT = "classpath:/META-INF/resources";

  @Override
  public void addResourceHandlers(ResourceHandlerRegistry registry) {
    // The names have a digest of the contents: whoever has one need never ask again (RFC 8246).
    add(
        registry,
        "/console/assets/",
        "**",
        CacheControl.maxAge(365, TimeUnit.DAYS).cachePublic().immutable());
    // The names stay when the contents change: these are asked for each time, and answered 304.
    add(registry, "/page/", "*.*", CacheControl.noCache());
  }

  private static void add(
      ResourceHandlerRegistry registry, String folder, String names, CacheControl cache) {
    registry
        .addResourceHandler(folder + names)
        .addResourceLocations(ROOT + folder)
        .setCacheControl(cache)
        .resourceChain(false)
        .addResolver(new Precompressed());
  }
}
