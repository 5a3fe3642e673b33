package nodley.store.upload;

import java.text.Normalizer;
import java.util.regex.Pattern;
import nodley.core.value.Wellformed;

/**
 * Makes a file's name safe to be shown and to be saved under on any system: without folders,
 * control characters and characters that change the direction of writing, at most 200 characters.
 */
public final class FileNames {

  private static final int LONGEST = 200;
  private static final int LONGEST_ENDING = 20;

  /** Control and format characters: bidirectional overrides (UAX #9) are among the latter. */
  private static final Pattern UNSAFE =
      Pattern.compile("[\\p{Cc}\\p{Cf}\\p{Co}\\p{Cs}\\u2028\\u2029<>:\"|?*\\\\/]");

  /** Names of devices on Windows, whatever ending they have. */
  private static final Pattern DEVICE =
      Pattern.compile("(?i)(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(\\..*)?");

  private FileNames() {}

  /** Returns the name without folders and with {@code _} for what is unsafe; never empty. */
  public static String safe(String sent) {
    String name = sent.substring(Math.max(sent.lastIndexOf('/'), sent.lastIndexOf('\\')) + 1);
    // A joiner between two emoji is a format character that means something; it stays.
    name = Normalizer.normalize(Wellformed.of(name), Normalizer.Form.NFC);
    name = UNSAFE.matcher(name.replace("\uFFFD", "_")).replaceAll("_").strip();
    name = name.replaceAll("^\\.+", "_").replaceAll("[. ]+$", "");
    name = shortened(name);
    if (name.isEmpty()) {
      return "file";
    }
    return DEVICE.matcher(name).matches() ? "_" + name : name;
  }

  /** Leaves out of the middle, so that the ending stays. */
  private static String shortened(String name) {
    int length = name.codePointCount(0, name.length());
    if (length <= LONGEST) {
      return name;
    }
    int dot = name.lastIndexOf('.');
    String ending = dot > 0 && name.length() - dot <= LONGEST_ENDING ? name.substring(dot) : "";
    int left = LONGEST - ending.codePointCount(0, ending.length());
    return name.substring(0, name.offsetByCodePoints(0, left)) + ending;
  }
}
