package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.ServerSocket;
import org.junit.jupiter.api.Test;

/** {@code ./nodley dev}: pages and console from their sources, and the service behind them. */
class DevIT {

  @Test
  void pagesAndConsoleRunFromTheirSourcesAtOneAddress() throws IOException {
    int port;
    try (ServerSocket free = new ServerSocket(0)) {
      port = free.getLocalPort();
    }
    try (Program dev = Program.dev(port)) {
      dev.line("Console ");
      try (Browser browser = Browser.withScript("http://127.0.0.1:" + port)) {
        browser.openBound("/forms/vessel/new");
        browser.type("#f-callSign", "mq-7ab");
        browser.leave();
        browser.untilText("#f-callSign-error", "Call sign MQ7AB is already registered.");
        assertThat(browser.driver().getPageSource()).contains("/page/nodley.js");
        browser.open("/console/");
        browser.untilText("h1", "Sign in");
      }
    }
  }
}
