package nodley.service.file;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.Optional;
import java.util.Set;
import javax.imageio.ImageIO;
import javax.imageio.ImageReadParam;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import net.coobird.thumbnailator.util.exif.ExifFilterUtils;
import net.coobird.thumbnailator.util.exif.ExifUtils;
import net.coobird.thumbnailator.util.exif.Orientation;

/**
 * Makes small pictures of images. An image is read with so many of its pixels left out that what is
 * in memory stays small, whatever its header says; one with more pixels than cameras make is not
 * read at all. Stateless.
 */
final class Thumbnails {

  private static final Set<String> TYPES =
      Set.of("image/jpeg", "image/png", "image/gif", "image/webp");

  /** Pixels of the longer side. */
  private static final int SIDE = 320;

  private static final long MOST_PIXELS = 60_000_000;

  /** Of a kind that is read whole: four bytes each, a sixteenth of the heap. */
  private static final long MOST_UNPACKED = Runtime.getRuntime().maxMemory() / 64;

  private Thumbnails() {}

  /** Returns a small picture as PNG; empty if the file is no image that can be read. */
  static Optional<byte[]> of(Path file, String type) {
    if (!TYPES.contains(type)) {
      return Optional.empty();
    }
    ImageIO.setUseCache(false);
    try (ImageInputStream in = ImageIO.createImageInputStream(file.toFile())) {
      Iterator<ImageReader> readers = ImageIO.getImageReadersByMIMEType(type);
      if (in == null || !readers.hasNext()) {
        return Optional.empty();
      }
      ImageReader reader = readers.next();
      try {
        boolean jpeg = type.equals("image/jpeg");
        // What else a file says may be packed, and unpack to anything; of JPEG it is not.
        reader.setInput(in, false, !jpeg);
        long most = type.equals("image/webp") ? MOST_UNPACKED : MOST_PIXELS;
        return small(reader, jpeg, most);
      } finally {
        reader.dispose();
      }
    } catch (IOException | RuntimeException e) {
      // An image that is damaged, on purpose or not.
      return Optional.empty();
    }
  }

  private static Optional<byte[]> small(ImageReader reader, boolean jpeg, long most)
      throws IOException {
    long width = reader.getWidth(0);
    long height = reader.getHeight(0);
    if (width * height > most || width < 1 || height < 1) {
      return Optional.empty();
    }
    int every = (int) Math.max(1, Math.max(width, height) / (2 * SIDE));
    ImageReadParam some = reader.getDefaultReadParam();
    some.setSourceSubsampling(every, every, 0, 0);
    Orientation orientation = jpeg ? ExifUtils.getExifOrientation(reader, 0) : null;
    BufferedImage read = reader.read(0, some);
    BufferedImage upright =
        orientation == null
            ? read
            : ExifFilterUtils.getFilterForOrientation(orientation).apply(read);
    BufferedImage small =
        net.coobird.thumbnailator.Thumbnails.of(upright)
            .size(Math.min(SIDE, upright.getWidth()), Math.min(SIDE, upright.getHeight()))
            .asBufferedImage();
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ImageIO.write(small, "png", out);
    return Optional.of(out.toByteArray());
  }
}
