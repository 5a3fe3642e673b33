package nodley.service.issuer;

import com.nimbusds.jose.KeySourceException;

/** What an issuer publishes cannot be had now; the message is its name. */
public final class IssuerUnreachable extends KeySourceException {
  private static final long serialVersionUID = 1;

  IssuerUnreachable(String issuer) {
    super(issuer);
  }
}
