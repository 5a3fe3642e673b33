package nodley.service.caller;

import java.util.List;
import org.springframework.security.authentication.AbstractAuthenticationToken;

/** The caller as an authentication of Spring Security. */
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
