package nodley.service.limits;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * Where people come from besides those who are kept here: {@code nodley.sign-in.*}.
 *
 * @param issuers at which people sign in, or whose tokens they show
 */
public record SignInSettings(@DefaultValue List<IssuerSettings> issuers) {

  public SignInSettings {
    issuers = List.copyOf(issuers);
    Set<String> names = new HashSet<>();
    for (IssuerSettings issuer : issuers) {
      if (!names.add(issuer.name()) || !names.add(issuer.uri())) {
        throw new IllegalArgumentException(
            "nodley.sign-in.issuers has \"" + issuer.name() + "\" twice, or its uri.");
      }
    }
  }
}
