package nodley.service.limits;

import java.io.IOException;
import java.nio.channels.SocketChannel;
import org.apache.coyote.AbstractProcessor;
import org.apache.coyote.Request;
import org.apache.coyote.http11.Http11NioProtocol;
import org.apache.tomcat.util.net.NioChannel;
import org.apache.tomcat.util.net.NioEndpoint;
import org.apache.tomcat.util.net.SocketEvent;
import org.apache.tomcat.util.net.SocketWrapperBase;

/**
 * Tomcat's HTTP/1.1 connector with limits on connections per address and on the time in which a
 * request's header must arrive; Tomcat itself limits only the pause between two bytes. Tomcat
 * creates it by name, so it is public and gets its limits afterwards, before it starts.
 */
public final class BoundedProtocol extends Http11NioProtocol {

  /** Makes a connector without bounds. */
  public BoundedProtocol() {
    super(new Endpoint());
  }

  void limit(ConnectionsByAddress connections, long headerNanos) {
    Endpoint endpoint = (Endpoint) getEndpoint();
    endpoint.byAddress = connections;
    endpoint.headerNanos = headerNanos;
  }

  /** Closes what sends the header of a request for too long; called every second. */
  void closeSlow() {
    ((Endpoint) getEndpoint()).closeSlow();
  }

  private static final class Endpoint extends NioEndpoint {

    private ConnectionsByAddress byAddress;
    private long headerNanos;

    @Override
    protected boolean setSocketOptions(SocketChannel socket) {
      if (isAdmitted(socket)) {
        return super.setSocketOptions(socket);
      }
      destroySocket(socket);
      return false;
    }

    private boolean isAdmitted(SocketChannel socket) {
      try {
        return byAddress.admits(socket);
      } catch (IOException e) {
        // It is closed already.
        return false;
      }
    }

    private void closeSlow() {
      byAddress.forgetClosed();
      long now = System.nanoTime();
      for (SocketWrapperBase<NioChannel> each : getConnections()) {
        if (each.getCurrentProcessor() instanceof AbstractProcessor processor
            && !processor.isAsync()
            && !processor.isUpgrade()
            && isSlow(processor.getRequest(), now)) {
          each.processSocket(SocketEvent.ERROR, true);
        }
      }
    }

    private boolean isSlow(Request request, long now) {
      // The processor stays with its connection from the first byte of a request line until the
      // header is complete; then a thread takes it, which waits for the body by itself.
      return request.getStartTimeNanos() > 0 && now - request.getStartTimeNanos() > headerNanos;
    }
  }
}
