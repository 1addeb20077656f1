import { Builder, By, Key, until } from "selenium-webdriver";
import chrome from "selenium-webdriver/chrome.js";
import { mkdtempSync, writeFileSync } from "node:fs";
export async function browser(w = 1280, h = 800) {
  const o = new chrome.Options();
  o.addArguments(
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    `--user-data-dir=${mkdtempSync("/tmp/cr-")}`,
    `--window-size=${w},${h + 139}`,
  );
  o.setLoggingPrefs({ browser: "ALL" });
  const d = await new Builder().forBrowser("chrome").setChromeOptions(o).setChromeService(new chrome.ServiceBuilder("/usr/bin/chromedriver")).build();
  const inner = await d.executeScript("return [innerWidth,innerHeight]");
  await d
    .manage()
    .window()
    .setRect({ width: w + (w - inner[0]), height: h + 139 + (h - inner[1]) });
  return d;
}
export const snap = async (d, f) => writeFileSync(f, Buffer.from(await d.takeScreenshot(), "base64"));
export { By, Key, until };
