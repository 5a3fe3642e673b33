package nodley.store.sqlite;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import org.junit.jupiter.api.Test;

class RecentlyTest {

  @Test
  void aShorterTimeDoesNotEndALongerOne() {
    Recently recently = new Recently();
    assertThat(recently.isSeen()).isFalse();
    recently.note(Duration.ofHours(1));
    recently.note(Duration.ZERO);
    assertThat(recently.isSeen()).isTrue();
  }
}
