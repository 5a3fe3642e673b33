package nodley.service.page;

/**
 * A file in a page.
 *
 * @param value what is sent for it
 * @param size for reading
 * @param href where it is
 * @param picture where a small picture of it is; empty if there is none
 */
record FileView(
    String id, String value, String fileName, String size, String href, String picture) {}
