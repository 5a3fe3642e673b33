package nodley.service.limits;

import jakarta.servlet.ServletException;
import jakarta.servlet.ServletRequest;
import java.io.IOException;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.valves.ValveBase;
import org.apache.coyote.ActionCode;
import org.apache.coyote.http11.Http11InputBuffer;

/**
 * Tells whether the client of a GET has closed its connection, so that work for it can be
 * cancelled. The servlet API has no such call; Tomcat has.
 */
public final class ClientConnection extends ValveBase {

  private static final String ATTRIBUTE = ClientConnection.class.getName();

  ClientConnection() {
    super(true);
  }

  @Override
  public void invoke(Request request, Response response) throws IOException, ServletException {
    if (request.getMethod().equals("GET")) {
      request.setAttribute(ATTRIBUTE, request.getCoyoteRequest());
    }
    getNext().invoke(request, response);
  }

  /**
   * True if the client has hung up. Looks without waiting, on the thread of the request only. False
   * where it cannot be known.
   */
  public static boolean isClosed(ServletRequest request) {
    if (!(request.getAttribute(ATTRIBUTE) instanceof org.apache.coyote.Request tomcat)) {
      return false;
    }
    tomcat.action(ActionCode.AVAILABLE, true);
    // The end of the stream counts as something to read; so does the next request of one that does
    // not wait for the answer, which then stands in the buffer.
    return tomcat.getAvailable() > 0
        && tomcat.getInputBuffer() instanceof Http11InputBuffer input
        && !input.getByteBuffer().hasRemaining();
  }
}
