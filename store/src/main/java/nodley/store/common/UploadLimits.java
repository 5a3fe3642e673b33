package nodley.store.common;

import java.time.Duration;

/**
 * Limits of uploads.
 *
 * @param kept how long an upload is kept that nothing takes over
 * @param perOwner bytes that may wait for one owner, or for one address of strangers
 * @param uploadsPerOwner uploads that may wait for them
 * @param inAll bytes that may wait in all
 * @param freeDisk bytes that stay free on the disk
 */
public record UploadLimits(
    Duration kept, long perOwner, int uploadsPerOwner, long inAll, long freeDisk) {

  public static final UploadLimits DEFAULT =
      new UploadLimits(Duration.ofHours(24), 2L << 30, 200, 20L << 30, 128L << 20);
}
