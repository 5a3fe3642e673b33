package nodley.cli;

/** The service did not answer, or what answered is not Nodley. */
final class Unreached extends RuntimeException {

  private static final long serialVersionUID = 1;

  Unreached(String message) {
    super(message);
  }
}
