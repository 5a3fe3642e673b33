package nodley.cli;

/** The service did not answer, or another program did. */
final class ServiceUnreachable extends RuntimeException {

  private static final long serialVersionUID = 1;

  ServiceUnreachable(String message) {
    super(message);
  }
}
