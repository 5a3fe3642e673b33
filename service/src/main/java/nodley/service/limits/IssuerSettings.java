package nodley.service.limits;

import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * An issuer of tokens for people: {@code nodley.sign-in.issuers[N].*}.
 *
 * @param name what ids of its people begin with; small letters, digits and hyphens
 * @param uri as its tokens have it in {@code iss} (RFC 7519, section 4.1.1)
 * @param audience what its tokens must have in {@code aud}
 * @param jwks the address of its keys (RFC 7517); left out, what its OpenID configuration says
 * @param rolesClaim the claim with the roles; dots lead into objects
 * @param roles {@code VALUE=role}: which role a value of the claim gives; left out, the one of the
 *     same name, but none of the built-in ones
 */
public record IssuerSettings(
    @DefaultValue("") String name,
    @DefaultValue("") String uri,
    @DefaultValue("") String audience,
    @DefaultValue("") String jwks,
    @DefaultValue("roles") String rolesClaim,
    @DefaultValue List<String> roles) {

  private static final Pattern NAME = Pattern.compile("[a-z][a-z0-9-]{0,39}");

  private static final String AT = "nodley.sign-in.issuers: ";

  /** What ids of others begin with. */
  private static final Set<String> RESERVED = Set.of("own", "pass");

  public IssuerSettings {
    roles = List.copyOf(roles);
    if (!NAME.matcher(name).matches() || RESERVED.contains(name)) {
      throw wrong(
          "name is \""
              + name
              + "\"; it must be small letters, digits and hyphens, not own or pass.");
    }
    if (audience.isEmpty()) {
      throw wrong("audience of " + name + " is missing: what its tokens have in aud.");
    }
    check(name, "uri", uri);
    if (!jwks.isEmpty()) {
      check(name, "jwks", jwks);
    }
    for (String each : roles) {
      if (!each.matches("[^=]+=[a-z][a-z0-9-]*")) {
        throw wrong("roles of " + name + " has \"" + each + "\"; it must be VALUE=role.");
      }
    }
  }

  /** Whoever could change what comes from there could be anybody. */
  private static void check(String name, String key, String address) {
    Optional<URI> uri =
        Optional.of(address).filter(it -> !it.isBlank()).flatMap(IssuerSettings::uri);
    boolean isSafe =
        uri.filter(
                it ->
                    "https".equals(it.getScheme())
                        || "http".equals(it.getScheme())
                            && Set.of("127.0.0.1", "localhost", "[::1]").contains(it.getHost()))
            .isPresent();
    if (!isSafe) {
      throw wrong(
          key
              + " of "
              + name
              + " is \""
              + address
              + "\"; it must be an https address, or an http one of this machine.");
    }
  }

  private static Optional<URI> uri(String address) {
    try {
      return Optional.of(URI.create(address));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  private static IllegalArgumentException wrong(String what) {
    return new IllegalArgumentException(AT + what);
  }

  /** Returns which role each value of the claim gives; empty if each gives that of its name. */
  public Map<String, String> roleByValue() {
    Map<String, String> byValue = new LinkedHashMap<>();
    for (String each : roles) {
      int at = each.lastIndexOf('=');
      byValue.put(each.substring(0, at).strip(), each.substring(at + 1));
    }
    return byValue;
  }
}
