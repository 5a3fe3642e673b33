package nodley.core;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;

/** The version of Nodley, as the build wrote it from the root {@code pom.xml}. */
public final class ProductVersion {

  private ProductVersion() {}

  /** Returns the version, such as {@code 1.2.0}. */
  public static String current() {
    try (InputStream file = ProductVersion.class.getResourceAsStream("version.txt")) {
      return new String(file.readAllBytes(), StandardCharsets.UTF_8).strip();
    } catch (IOException e) {
      throw new IllegalStateException("The version is part of the program, and cannot be read.", e);
    }
  }
}
