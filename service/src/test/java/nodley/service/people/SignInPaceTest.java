package nodley.service.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.time.Instant;
import nodley.service.problem.Problem;
import org.junit.jupiter.api.Test;

/** Waits after wrong passwords, by a clock that is set by hand. */
class SignInPaceTest {

  private static final String HERE = "192.0.2.0";
  private static final String THERE = "198.51.100.0";

  private Instant now = Instant.parse("2026-11-29T12:00:00Z");
  private final SignInPace pace = new SignInPace(() -> now);

  /** How many seconds it has to wait; 0 if it may come at once, and it is wrong. */
  private int wrong(String name, String network) {
    Problem problem = catchThrowableOfType(Problem.class, () -> pace.begin(name, network));
    return problem == null ? 0 : Integer.parseInt(problem.headers().get("Retry-After"));
  }

  private void right(String name, String network) {
    pace.begin(name, network);
    pace.succeeded(name, network);
  }

  private void pass(int seconds) {
    now = now.plusSeconds(seconds);
  }

  @Test
  void afterFiveEachWaitsTwiceAsLongUpToAQuarterOfAnHour() {
    for (int i = 0; i < 5; i++) {
      assertThat(wrong("ann", HERE)).isZero();
    }
    int[] waits = {1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 900, 900};
    for (int wait : waits) {
      // Retry-After is in whole seconds, and never too early.
      assertThat(wrong("ann", HERE)).isEqualTo(wait + 1);
      pass(wait);
      assertThat(wrong("ann", HERE)).isZero();
    }
  }

  @Test
  void twentyForOneNetworkWhateverTheNames() {
    for (int i = 0; i < 20; i++) {
      assertThat(wrong("name " + i, HERE)).isZero();
    }
    assertThat(wrong("another", HERE)).isPositive();
    assertThat(wrong("another", THERE)).isZero();
  }

  /** Who is known from there is shut out by nobody else's mistakes. */
  @Test
  void anAddressThatWasRightBeforeWaitsForItsOwnMistakesOnly() {
    right("ann", HERE);
    for (int i = 0; i < 5; i++) {
      assertThat(wrong("ann", THERE)).isZero();
    }
    assertThat(wrong("ann", THERE)).isPositive();
    for (int i = 0; i < 25; i++) {
      wrong("name " + i, HERE);
    }
    assertThat(wrong("bob", HERE)).isPositive();
    assertThat(wrong("ann", HERE)).isZero();
    right("ann", HERE);
    for (int i = 0; i < 4; i++) {
      assertThat(wrong("ann", HERE)).isZero();
    }
    assertThat(wrong("ann", HERE)).isPositive();
  }

  /** With an account of one's own nobody gets more guesses at another's. */
  @Test
  void ownSuccessesDoNotTakeBackWrongGuesses() {
    int guesses = 0;
    for (int i = 0; i < 40; i++) {
      guesses += wrong("victim " + i, HERE) == 0 ? 1 : 0;
      right("own", HERE);
    }
    assertThat(guesses).isLessThanOrEqualTo(20);
  }

  @Test
  void theRightOneAfterItsWaitIsTaken() {
    for (int i = 0; i < 5; i++) {
      wrong("ann", HERE);
    }
    assertThat(wrong("ann", HERE)).isPositive();
    pass(1);
    right("ann", HERE);
    assertThat(wrong("ann", HERE)).as("from there it is known now").isZero();
  }
}
