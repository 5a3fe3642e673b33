package nodley.service.limits;

import java.time.Duration;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * The scanner of files: {@code nodley.scan.*}.
 *
 * @param clamd where clamd listens: the path of its socket, or {@code host:port}; empty if files
 *     are not scanned
 * @param time how long one scan may take
 */
public record ScanSettings(@DefaultValue("") String clamd, @DefaultValue("1m") Duration time) {

  public ScanSettings {
    if (!clamd.isEmpty() && !clamd.startsWith("/") && !clamd.matches("[^:]+:[0-9]{1,5}")) {
      throw new IllegalArgumentException(
          "nodley.scan.clamd is \""
              + clamd
              + "\"; it must be the path of a socket, such as /run/clamav/clamd.ctl, or"
              + " host:port.");
    }
    if (time.toMillis() < 100) {
      throw new IllegalArgumentException("nodley.scan.time must be at least 100ms.");
    }
  }
}
