package nodley.core.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** The pass over an e-mail address is held against HTML's own expression for it. */
class AddressesTest {

  @Test
  void anAddressIsOneToThePassWhereItIsOneToHtmlsExpression() {
    Pattern html = Pattern.compile(Addresses.EMAIL);
    Random random = new Random(20270301);
    String signs = "ab1Z@@..--_+é \n";
    int right = 0;
    for (int i = 0; i < 200_000; i++) {
      StringBuilder text = new StringBuilder();
      for (int length = random.nextInt(12); length > 0; length--) {
        text.append(signs.charAt(random.nextInt(signs.length())));
      }
      if (i % 50 == 0) {
        text.append("@").append("x".repeat(60 + random.nextInt(6))).append(".b");
      }
      boolean expected = html.matcher(text).matches();
      right += expected ? 1 : 0;
      assertThat(Addresses.isEmail(text.toString())).as(text.toString()).isEqualTo(expected);
    }
    assertThat(right).isGreaterThan(500);
  }
}
