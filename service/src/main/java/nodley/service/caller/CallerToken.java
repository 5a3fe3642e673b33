package nodley.service.caller;

import java.util.List;
import org.springframework.security.authentication.AbstractAuthenticationToken;

/**
 * The caller as an authentication of Spring Security, so that its filters and ours mean the same
 * one. It holds no credentials and no authorities: what a caller may do, {@code Authorization}
 * says. For one request.
 */
final class CallerToken extends AbstractAuthenticationToken {

  private static final long serialVersionUID = 1;
  private final transient Caller caller;

  CallerToken(Caller caller) {
    super(List.of());
    this.caller = caller;
    setAuthenticated(caller.isKnown());
  }

  Caller caller() {
    return caller;
  }

  @Override
  public Object getCredentials() {
    return "";
  }

  @Override
  public Object getPrincipal() {
    return caller instanceof Caller.Known known ? known.name() : "";
  }
}
