package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.springframework.core.io.AbstractResource;
import org.springframework.core.io.Resource;
import org.springframework.http.HttpHeaders;
import org.springframework.web.servlet.resource.AbstractResourceResolver;
import org.springframework.web.servlet.resource.HttpResource;
import org.springframework.web.servlet.resource.ResourceResolverChain;

/**
 * Serves a file in the smallest encoding that its build made and the client accepts (RFC 9110,
 * section 12.5.3).
 */
final class Precompressed extends AbstractResourceResolver {

  /** The endings of the files, the smallest first. */
  private static final List<Map.Entry<String, String>> CODINGS =
      List.of(Map.entry("br", ".br"), Map.entry("gzip", ".gz"));

  @Override
  protected Resource resolveResourceInternal(
      HttpServletRequest request,
      String path,
      List<? extends Resource> locations,
      ResourceResolverChain chain) {
    Resource plain = chain.resolveResource(request, path, locations);
    String taken = request == null ? null : request.getHeader(HttpHeaders.ACCEPT_ENCODING);
    if (plain == null || taken == null) {
      return plain;
    }
    for (Map.Entry<String, String> coding : CODINGS) {
      if (takes(taken, coding.getKey())) {
        try {
          Resource encoded = plain.createRelative(plain.getFilename() + coding.getValue());
          if (encoded.exists()) {
            return new Encoded(plain, encoded, coding.getKey());
          }
        } catch (IOException e) {
          return plain;
        }
      }
    }
    return plain;
  }

  private static boolean takes(String header, String coding) {
    return Arrays.stream(header.split(","))
        .map(it -> it.strip().split("\\s*;\\s*"))
        .anyMatch(
            it ->
                it[0].equalsIgnoreCase(coding)
                    && (it.length < 2 || !it[1].matches("[qQ]=0(\\.0{0,3})?")));
  }

  @Override
  protected String resolveUrlPathInternal(
      String path, List<? extends Resource> locations, ResourceResolverChain chain) {
    return chain.resolveUrlPath(path, locations);
  }

  /** The bytes of the compressed file, under the name, and so the type, of the plain one. */
  private static final class Encoded extends AbstractResource implements HttpResource {

    private final Resource plain;
    private final Resource bytes;
    private final String coding;

    Encoded(Resource plain, Resource bytes, String coding) {
      this.plain = plain;
      this.bytes = bytes;
      this.coding = coding;
    }

    @Override
    public HttpHeaders getResponseHeaders() {
      HttpHeaders headers = new HttpHeaders();
      headers.set(HttpHeaders.CONTENT_ENCODING, coding);
      headers.set(HttpHeaders.VARY, HttpHeaders.ACCEPT_ENCODING);
      return headers;
    }

    @Override
    public InputStream getInputStream() throws IOException {
      return bytes.getInputStream();
    }

    @Override
    public long contentLength() throws IOException {
      return bytes.contentLength();
    }

    @Override
    public String getFilename() {
      return plain.getFilename();
    }

    @Override
    public long lastModified() throws IOException {
      return plain.lastModified();
    }

    @Override
    public String getDescription() {
      return bytes.getDescription();
    }
  }
}
