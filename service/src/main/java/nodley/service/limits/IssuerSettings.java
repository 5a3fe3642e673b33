package nodley.service.limits;

import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * An issuer, at which people sign in, or whose tokens they show: {@code
 * nodley.sign-in.issuers[N].*}.
 *
 * @param name what ids of its people begin with; small letters, digits and hyphens
 * @param label what people call it; left out, its name
 * @param uri as its tokens have it in {@code iss} (RFC 7519, section 4.1.1)
 * @param audience what bearer tokens of its must have in {@code aud}; left out, none are accepted
 * @param clientId what the issuer calls this service, where people sign in by OpenID Connect; left
 *     out, they do not
 * @param clientSecret what the issuer knows this service by; left out, the service is a public
 *     client
 * @param scopes what the issuer is asked to tell of people
 * @param jwks the address of its keys (RFC 7517); left out, what its OpenID configuration says
 * @param rolesClaim the claim with the roles; dots lead into objects
 * @param roles {@code VALUE=role}: which role a value of the claim gives; left out, the one of the
 *     same name, but none of the built-in ones
 */
public record IssuerSettings(
    @DefaultValue("") String name,
    @DefaultValue("") String label,
    @DefaultValue("") String uri,
    @DefaultValue("") String audience,
    @DefaultValue("") String clientId,
    @DefaultValue("") String clientSecret,
    @DefaultValue({"openid", "profile", "email"}) List<String> scopes,
    @DefaultValue("") String jwks,
    @DefaultValue("roles") String rolesClaim,
    @DefaultValue List<String> roles) {

  private static final Pattern NAME = Pattern.compile("[a-z][a-z0-9-]{0,39}");

  private static final String AT = "nodley.sign-in.issuers: ";

  /** What ids of others begin with. */
  private static final Set<String> RESERVED = Set.of("own", "pass");

  private static final String SCOPE = "openid";

  public IssuerSettings {
    label = label.isBlank() ? name : label.strip();
    scopes = List.copyOf(scopes);
    roles = List.copyOf(roles);
    if (!NAME.matcher(name).matches() || RESERVED.contains(name)) {
      throw wrong(
          "name is \""
              + name
              + "\"; it must be small letters, digits and hyphens, not own or pass.");
    }
    if (audience.isEmpty() && clientId.isEmpty()) {
      throw wrong(
          name
              + " has neither client-id, with which people sign in there, nor audience: what its"
              + " tokens have in aud.");
    }
    if (!scopes.contains(SCOPE)) {
      throw wrong("scopes of " + name + " must have openid among them.");
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

  private static void check(String name, String key, String address) {
    if (!isSafe(address)) {
      throw wrong(
          key
              + " of "
              + name
              + " is \""
              + address
              + "\"; it must be an https address, or an http one of this machine.");
    }
  }

  /**
   * Returns whether nobody on the way can change what comes from an address: whoever could would be
   * anybody.
   */
  public static boolean isSafe(String address) {
    try {
      URI uri = URI.create(address);
      return uri.getHost() != null
          && ("https".equals(uri.getScheme())
              || "http".equals(uri.getScheme())
                  && Set.of("127.0.0.1", "localhost", "[::1]").contains(uri.getHost()));
    } catch (IllegalArgumentException e) {
      return false;
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
