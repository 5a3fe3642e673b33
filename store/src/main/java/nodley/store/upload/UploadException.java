package nodley.store.upload;

import java.io.IOException;

/** Why an upload does not go on. Each says what its sender can do; the service has an answer. */
public abstract sealed class UploadException extends IOException {

  private static final long serialVersionUID = 1;

  private UploadException(String message) {
    super(message);
  }

  /** Bytes were sent for another place than the one where it goes on. */
  public static final class WrongOffset extends UploadException {
    private static final long serialVersionUID = 1;

    public WrongOffset(long sent, long offset) {
      super(
          "The bytes begin at "
              + sent
              + ", and the upload goes on at "
              + offset
              + ". Ask for the offset with HEAD, and go on from there.");
    }
  }

  /** Another request has gone on with it meanwhile. */
  public static final class Overtaken extends UploadException {
    private static final long serialVersionUID = 1;

    public Overtaken() {
      super("Another request goes on with this upload. Ask for the offset with HEAD.");
    }
  }

  /** More bytes came than the upload was said to have; none of the request's are kept. */
  public static final class TooMuch extends UploadException {
    private static final long serialVersionUID = 1;

    public TooMuch(long size) {
      super("More bytes were sent than the " + size + " that the upload was said to have.");
    }
  }

  /** The bytes are not those that the checksum is of; none of them are kept. */
  public static final class WrongChecksum extends UploadException {
    private static final long serialVersionUID = 1;

    public WrongChecksum() {
      super("The checksum does not match the bytes; none of them were kept. Send them again.");
    }
  }

  /** Too much waits already. */
  public static final class TooMany extends UploadException {
    private static final long serialVersionUID = 1;

    public TooMany(String message) {
      super(message);
    }
  }

  /** The disk is full. */
  public static final class NoRoom extends UploadException {
    private static final long serialVersionUID = 1;

    public NoRoom() {
      super("There is no room for files on the disk of the service.");
    }
  }

  /** Its content does harm. */
  public static final class Harmful extends UploadException {
    private static final long serialVersionUID = 1;

    /**
     * Says what was found.
     *
     * @param found the scanner's name for it, for the operator
     */
    public Harmful(String found) {
      super("The content does harm: " + found);
    }
  }

  /** Whether its content does harm could not be found out; it can be asked again. */
  public static final class Unscanned extends UploadException {
    private static final long serialVersionUID = 1;

    public Unscanned(String why) {
      super(why);
    }
  }

  /** It is gone: ended, expired or taken over. */
  public static final class Gone extends UploadException {
    private static final long serialVersionUID = 1;

    public Gone() {
      super("There is no such upload, or it is no longer there.");
    }
  }
}
