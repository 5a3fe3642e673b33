package nodley.service;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.openqa.selenium.By;
import org.openqa.selenium.OutputType;

/** Takes the pictures of docs/screenshots from a running demo: see tools/pictures. */
public final class Pictures {

  private final Browser browser;
  private final Path folder;

  private Pictures(Browser browser, Path folder) {
    this.browser = browser;
    this.folder = folder;
  }

  /** Arguments: the address of the demo, its key, the folder for the pictures. */
  public static void main(String[] args) throws IOException {
    try (Browser browser = Browser.withScript(args[0])) {
      browser
          .driver()
          .executeCdpCommand(
              "Emulation.setDeviceMetricsOverride",
              Map.of("width", 1280, "height", 800, "deviceScaleFactor", 1, "mobile", false));
      new Pictures(browser, Path.of(args[2])).takeAll(args[1]);
    }
  }

  private void takeAll(String key) throws IOException {
    browser.openBound("/forms/vessel/new");
    take("page-add");
    browser.find("button[type=submit]").click();
    browser.untilText(".summary h2", "to mend");
    take("page-refused");
    browser.openBound("/forms/vessel/new");
    browser.type("#f-name", "Grey Heron");
    browser.type("#f-callSign", "mq-7ab");
    browser.leave();
    browser.untilText("#f-callSign-error", "already registered");
    take("page-taken");
    browser.open("/forms/vessel");
    take("page-list");
    browser.open("/console");
    browser.find("#key");
    take("console-sign-in");
    browser.find("#key").sendKeys(key);
    browser.find("button[type=submit]").click();
    browser.untilText("table", "Vessels");
    take("console-forms");
    browser.driver().findElement(By.linkText("Vessels")).click();
    browser.untilText("table", "Grey Heron");
    take("console-records");
    browser.driver().findElement(By.xpath("//button[.='Grey Heron · MQ7AB']")).click();
    browser.find("#field-callSign");
    browser.type("#field-callSign", "MQ3CD");
    browser.leave();
    browser.untilText("#field-callSign-error", "already registered");
    take("console-edit");
    browser.open("/console/forms/vessel/fields");
    browser.untilText("table", "Call sign");
    take("console-fields");
    browser.open("/console/forms/vessel/file");
    browser.untilText(".file", "form: vessel");
    take("console-file");
    browser.open("/forms/vessel?q=heron");
    browser.find("tbody a").click();
    browser.untilText("h1", "Grey Heron");
    take("page-record");
    browser.driver().findElement(By.linkText("Edit")).click();
    browser.find("form[data-bound=true]");
    take("page-edit");
  }

  private void take(String name) throws IOException {
    File file = browser.driver().getScreenshotAs(OutputType.FILE);
    Files.createDirectories(folder);
    Files.copy(
        file.toPath(),
        folder.resolve(name + ".png"),
        java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    System.out.println(folder.resolve(name + ".png"));
  }
}
