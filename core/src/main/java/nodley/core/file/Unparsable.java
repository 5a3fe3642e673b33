package nodley.core.file;

/** A file that is no tree at all, and where it goes wrong. */
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
