import { mkdtempSync } from "node:fs";
import { writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Browser, Builder, Button, By, Key, logging, Origin, type WebDriver, type WebElement } from "selenium-webdriver";
import chrome from "selenium-webdriver/chrome";
import { until } from "./app";

export const downloads = () => mkdtempSync(join(tmpdir(), "umber-dl-"));

/** Headless Chromium whose page is exactly `width` × `height`. */
export async function openBrowser(downloadFolder: string, width = 1280, height = 800): Promise<WebDriver> {
  const options = new chrome.Options();
  options.addArguments(
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    `--user-data-dir=${mkdtempSync(join(tmpdir(), "umber-chrome-"))}`,
    `--window-size=${width},${height}`,
  );
  options.setUserPreferences({ "download.default_directory": downloadFolder, "download.prompt_for_download": false });
  const prefs = new logging.Preferences();
  prefs.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  options.setLoggingPrefs(prefs);
  const driver = await new Builder()
    .forBrowser(Browser.CHROME)
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder("/usr/bin/chromedriver"))
    .build();
  await driver.manage().setTimeouts({ script: 900_000, pageLoad: 900_000 });
  const [w, h] = await driver.executeScript<[number, number]>("return [innerWidth, innerHeight]");
  await driver
    .manage()
    .window()
    .setRect({ width: width + (width - w), height: height + (height - h) });
  return driver;
}

/** What the page complained about so far. */
export async function complaints(d: WebDriver): Promise<string[]> {
  const entries = await d.manage().logs().get(logging.Type.BROWSER);
  return entries.filter((e) => e.level.value >= logging.Level.WARNING.value).map((e) => e.message);
}

/** The editor, driven as a user would: keys, and the pointer on the picture in the take's pixels. */
export class EditorDriver {
  constructor(readonly d: WebDriver) {}

  /** Finds an element, waiting a moment for it to come. */
  private wait = (what: string, by: By) => until(what, () => this.d.findElement(by));
  find = (css: string) => this.wait(css, By.css(css));
  byLabel = (label: string) => this.wait(label, By.css(`[aria-label=${JSON.stringify(label)}]`));
  byText = (text: string, tag = "button") =>
    this.wait(
      text,
      By.xpath(`//${tag}[normalize-space(.)=${JSON.stringify(text)} or starts-with(normalize-space(.), ${JSON.stringify(`${text} `)})]`),
    );

  /** Waits until the first page answers: before that, what is dropped on it or chosen is heard by nobody. */
  home = () => this.find("main[aria-busy=false]");

  /** Opens a shot by its picture on the first page. */
  async open(url: string, name: string): Promise<void> {
    await this.d.get(url);
    const link = await until(`the shot ${name}`, () => this.byLabel(`Open ${name}`));
    await link.click();
    await this.exact();
  }

  async frame(): Promise<number> {
    return Number(await (await this.find('[data-testid="frame"]')).getAttribute("data-now"));
  }

  /** Waits within the page until an expression in it is true: asking from outside, again and again, keeps a core busy. */
  private async inPage(what: string, expression: string, ms = 900_000): Promise<void> {
    const end = Date.now() + ms;
    while (Date.now() < end) {
      const came = await this.d
        .executeAsyncScript<boolean>(
          `const done = arguments[arguments.length - 1];
           const end = Date.now() + 10000;
           const look = () => { let v = false; try { v = ${expression}; } catch {} v || Date.now() > end ? done(!!v) : setTimeout(look, 30); };
           look();`,
        )
        .catch(() => false); // the page was left meanwhile
      if (came) return;
    }
    throw new Error(`waited ${ms} ms in vain for ${what}`);
  }

  /** Waits until the exact picture of the present frame is on the screen, with all that was asked for. */
  exact = () =>
    this.inPage(
      "the exact frame",
      `document.querySelector('[data-testid=quality]').textContent.trim() === 'exact' &&
       document.querySelector('[data-testid=quality]').ariaBusy === 'false' &&
       document.querySelector('[data-testid=picture]').dataset.frame === document.querySelector('[data-testid=frame]').dataset.now`,
    );

  async keys(...keys: string[]): Promise<void> {
    for (const k of keys) await this.d.actions().sendKeys(k).perform();
  }
  hold = (key: string) => this.d.actions().keyDown(key).perform();
  release = (key: string) => this.d.actions().keyUp(key).perform();
  async chord(...keys: string[]): Promise<void> {
    const a = this.d.actions();
    for (const k of keys) a.keyDown(k);
    for (const k of keys.toReversed()) a.keyUp(k);
    await a.perform();
  }

  /** A point of the take as a point of the page. */
  at = async (x: number, y: number) => (await this.places([[x, y]]))[0];
  private async places(points: [number, number][]): Promise<{ x: number; y: number }[]> {
    const [l, t, w, h, tw, th] = await this.d.executeScript<number[]>(`
      const r = document.querySelector('[data-testid=picture]').getBoundingClientRect();
      return [r.left, r.top, r.width, r.height, ...document.querySelector('[data-testid=picture]').dataset.size.split('x').map(Number)];`);
    return points.map(([x, y]) => ({ x: Math.round(l + (x * w) / tw), y: Math.round(t + (y * h) / th) }));
  }
  async click(x: number, y: number): Promise<void> {
    await this.d
      .actions()
      .move({ ...(await this.at(x, y)), origin: Origin.VIEWPORT })
      .click()
      .perform();
  }
  async hover(x: number, y: number): Promise<void> {
    await this.d
      .actions()
      .move({ ...(await this.at(x, y)), origin: Origin.VIEWPORT })
      .perform();
  }
  async drag(points: [number, number][], button: Button = Button.LEFT): Promise<void> {
    const a = this.d
      .actions()
      .move({ ...(await this.at(...points[0])), origin: Origin.VIEWPORT })
      .press(button);
    for (const p of points.slice(1)) a.move({ ...(await this.at(...p)), origin: Origin.VIEWPORT, duration: 60 });
    await a.release(button).perform();
  }
  /** A quick stroke through points of the take. */
  async stroke(points: [number, number][]): Promise<void> {
    const places = await this.places(points);
    const a = this.d
      .actions({ async: false })
      .move({ ...places[0], origin: Origin.VIEWPORT })
      .press();
    for (const p of places.slice(1)) a.move({ ...p, origin: Origin.VIEWPORT, duration: 4 });
    await a.release().perform();
  }
  /** Turns the wheel over an element. */
  async wheel(el: WebElement, dy: number): Promise<void> {
    // the library has it; its types do not
    const a = this.d.actions() as unknown as {
      scroll(x: number, y: number, dx: number, dy: number, origin: WebElement): { perform(): Promise<void> };
    };
    await a.scroll(0, 0, 0, dy, el).perform();
  }
  async dragElement(el: WebElement, dx: number, dy: number): Promise<void> {
    await this.d.actions().move({ origin: el }).press().move({ origin: Origin.POINTER, x: dx, y: dy, duration: 80 }).release().perform();
  }

  private fieldOf = (label: string) =>
    this.wait(
      `the field ${label}`,
      By.xpath(`//input[@aria-label=${JSON.stringify(label)}] | //label[normalize-space(.)=${JSON.stringify(label)}]/..//input`),
    );
  /** Types into a number field by its label. */
  async field(label: string, value: string): Promise<void> {
    const input = await this.fieldOf(label);
    await input.click();
    await input.sendKeys(Key.chord(Key.CONTROL, "a"), value, Key.ENTER);
  }
  fieldValue = async (label: string): Promise<string> => (await (await this.fieldOf(label)).getAttribute("value")) ?? "";

  /** Names the intruder whose patch is selected. */
  async rename(text: string): Promise<void> {
    const name = await this.byLabel("Name of the intruder");
    await name.click();
    await name.sendKeys(Key.chord(Key.CONTROL, "a"), text, Key.ENTER);
  }

  /** Waits until everything is stored. */
  saved = () => this.inPage("all to be stored", "document.querySelector('header [role=status]').textContent.trim() === 'saved'");

  /** Mean of R, G and B in a square of the shown picture, `r` pixels about a middle. */
  grey = (x: number, y: number, r = 3) =>
    this.d.executeScript<number>(`
      const d = document.querySelector('[data-testid=picture]').getContext('2d').getImageData(${x - r}, ${y - r}, ${2 * r + 1}, ${2 * r + 1}).data;
      let s = 0;
      for (let i = 0; i < d.length; i++) if (i % 4 !== 3) s += d[i];
      return s / (d.length * 0.75);`);

  /** R, G and B of one pixel of the shown picture. */
  pixel = (x: number, y: number) =>
    this.d.executeScript<number[]>(
      `return [...document.querySelector('[data-testid=picture]').getContext('2d').getImageData(${x}, ${y}, 1, 1).data.subarray(0, 3)];`,
    );

  /** The shown picture's pixels, RGBA, at the canvas's own size. */
  async pixels(): Promise<{ width: number; height: number; data: Uint8Array }> {
    const [w, h, b64] = await this.d.executeAsyncScript<[number, number, string]>(`
      const done = arguments[arguments.length - 1];
      const c = document.querySelector('[data-testid=picture]');
      const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
      const r = new FileReader();
      r.onload = () => done([c.width, c.height, r.result.split(',')[1]]);
      r.readAsDataURL(new Blob([d]));`);
    return { width: w, height: h, data: new Uint8Array(Buffer.from(b64, "base64")) };
  }

  async picture(file: string): Promise<void> {
    await writeFile(file, Buffer.from(await this.d.takeScreenshot(), "base64"));
  }
}

export { Button, By, Key };
