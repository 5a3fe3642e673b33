package nodley.service.delivery;

import java.util.Optional;
import nodley.store.access.SignedTokens;

/**
 * What stands in the address of a page that confirms: the id of the delivery that mailed it,
 * signed, so that nobody who was not mailed one has it. Stateless.
 */
public final class ConfirmationLink {

  private static final String PURPOSE = "confirm-address";

  private ConfirmationLink() {}

  static String of(SignedTokens tokens, String delivery) {
    return tokens.seal(PURPOSE, delivery);
  }

  /** Returns the code that the store knows a link by; empty if it was not made here. */
  public static Optional<String> code(SignedTokens tokens, String link) {
    return tokens.open(PURPOSE, link);
  }
}
