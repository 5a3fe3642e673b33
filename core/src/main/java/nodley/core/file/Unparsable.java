package nodley.core.file;

/** A syntax error: the file is neither YAML nor JSON. With its position. */
final class Unparsable extends Exception {

  private static final long serialVersionUID = 1;

  private final transient Place place;

  Unparsable(Place place, String detail) {
    super(detail);
    this.place = place;
  }

  Place place() {
    return place;
  }
}
