package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.URL;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.springframework.core.io.Resource;
import org.springframework.http.HttpHeaders;
import org.springframework.web.servlet.resource.AbstractResourceResolver;
import org.springframework.web.servlet.resource.HttpResource;
import org.springframework.web.servlet.resource.ResourceResolverChain;

/**
 * Hands out a file as its build has compressed it: the smaller one of what the caller takes,
 * whichever it names first (RFC 9110, section 12.5.3).
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
  private record Encoded(Resource plain, Resource bytes, String coding) implements HttpResource {

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
    public boolean exists() {
      return bytes.exists();
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
    public URL getURL() throws IOException {
      return bytes.getURL();
    }

    @Override
    public URI getURI() throws IOException {
      return bytes.getURI();
    }

    @Override
    public File getFile() throws IOException {
      return bytes.getFile();
    }

    @Override
    public Resource createRelative(String path) throws IOException {
      return bytes.createRelative(path);
    }

    @Override
    public String getDescription() {
      return bytes.getDescription();
    }
  }
}
