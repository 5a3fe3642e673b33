package nodley.store.common;

/**
 * Limits of drafts. Strangers at one address may have ten times as much together as one owner.
 *
 * @param perOwner drafts of one owner
 * @param bytesPerOwner bytes of their values
 */
public record DraftLimits(int perOwner, long bytesPerOwner) {

  public static final DraftLimits DEFAULT = new DraftLimits(100, 16L << 20);
}
