package nodley.service.issuer;

import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.JWKSelector;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.source.JWKSource;
import com.nimbusds.jose.proc.SecurityContext;
import java.util.List;

/**
 * The public keys of an issuer (RFC 7517), as those who verify signatures ask for them. Where a
 * token names a key that is not among them, the issuer may have changed its keys. Thread-safe.
 */
final class IssuerKeys implements JWKSource<SecurityContext> {

  private final String issuer;
  private final Published<JWKSet> keys;

  IssuerKeys(String issuer, Published<JWKSet> keys) {
    this.issuer = issuer;
    this.keys = keys;
  }

  @Override
  public List<JWK> get(JWKSelector selector, SecurityContext context) throws IssuerUnreachable {
    List<JWK> found = selector.select(keys.current().orElseThrow(this::unreachable));
    return found.isEmpty() ? selector.select(keys.newer().orElseThrow(this::unreachable)) : found;
  }

  private IssuerUnreachable unreachable() {
    return new IssuerUnreachable(issuer);
  }
}
