// Takes docs/screenshots from a running demo with fresh data: node scripts/take-screenshots.mjs http://127.0.0.1:4180
import { chromium } from "@playwright/test";

const base = process.argv[2] ?? "http://127.0.0.1:4180";
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH ?? "/usr/bin/chromium",
  args: ["--headless", "--no-sandbox", "--disable-gpu"],
});

async function shoot(name, path, { theme = "light", act } = {}) {
  const context = await browser.newContext({ baseURL: base, viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  await page.addInitScript((t) => localStorage.setItem("rheonom.session", JSON.stringify({ person: "Pell Anderby", theme: t })), theme);
  await page.goto(path);
  await page.waitForLoadState("networkidle");
  await page.waitForTimeout(900);
  if (act !== undefined) {
    await act(page);
    await page.waitForTimeout(600);
  }
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  await context.close();
}

const { jobs } = await (await fetch(`${base}/api/jobs?limit=100`)).json();
const idOf = (words) => jobs.find((j) => j.words.includes(words)).id;
const [blower, lamps, screen, starter, engineLamp, pump] = [
  "blower in the hold",
  "work lamps",
  "rear screen",
  "turns over so slowly",
  "engine lamp is on",
  "not to be heard",
].map(idOf);

await shoot("board", "/");
await shoot("complaint", `/jobs/${lamps}/complaint`, { act: (p) => p.getByText("First test:").waitFor({ timeout: 30_000 }) });
// A scan of the simulated vehicle, with what its codes share.
await shoot("codes", `/jobs/${engineLamp}/codes`, {
  act: async (p) => {
    await p.getByRole("button", { name: "Find the simulated vehicle" }).click();
    await p.getByRole("button", { name: /^Connect to/ }).click({ timeout: 30_000 });
    await p.getByRole("region", { name: "The simulated vehicle" }).getByText("run", { exact: true }).click();
    await p.waitForTimeout(4000);
    await p.getByRole("button", { name: /^Scan all/ }).click();
    await p.getByText("What they share").waitFor({ timeout: 30_000 });
    await p.waitForTimeout(500);
  },
});
await shoot("circuit", `/jobs/${pump}/circuit`, { act: (p) => p.waitForTimeout(1500) });
await shoot("prove", `/jobs/${screen}/prove`);
await shoot("temporary-changes", `/jobs/${screen}/prove`, { theme: "dark", act: (p) => p.keyboard.press("t") });
await shoot("record", `/jobs/${starter}/record`);
// Two readings on the simulated vehicle, as proposed.
const measure = async (page) => {
  await page.keyboard.press("Escape");
  for (let i = 0; i < 3; i++) {
    // A word is no matter of the meter.
    if ((await page.getByRole("button", { name: /se these leads/ }).count()) === 0) break;
    await page.locator("body").press("n");
    await page.keyboard.press("Escape");
    await page.locator("body").press("m");
    await page.waitForTimeout(900);
    await page.keyboard.press("Escape");
  }
};
await shoot("trace", `/jobs/${lamps}/trace`, { act: measure });
await shoot("new-job", "/jobs/new", {
  theme: "dark",
  act: async (p) => {
    await p.getByRole("combobox", { name: "Vehicle" }).fill("brigg");
    await p.keyboard.press("ArrowDown");
    await p.keyboard.press("Enter");
    await p.getByLabel("In the customer’s words").fill("The wiper stops half-way, and the horn is weak.");
    await p.waitForTimeout(1500);
  },
});
// A test of the trade half-way, and a reading watched while things are moved.
await shoot("tests", `/jobs/${blower}/trace?test=drop-walk`, {
  act: async (p) => {
    const set = p.locator('li[data-status="next"]').getByRole("button", { name: /^Vehicle set: / });
    if ((await set.count()) > 0) await set.click();
    for (let i = 0; i < 2; i++) {
      await p.locator('li[data-status="next"]').getByRole("button", { name: "Use these leads" }).click();
      await p.keyboard.press("Escape");
      await p.locator("body").press("m");
      await p.waitForTimeout(1500);
    }
  },
});
await shoot("move-and-watch", `/jobs/${lamps}/trace`, {
  theme: "dark",
  act: async (p) => {
    await p.getByRole("textbox", { name: "Red lead" }).fill("LA1.2");
    await p.getByRole("tab", { name: "Wiggle test" }).click();
    await p.getByRole("button", { name: "Start logging" }).click();
    await p.waitForTimeout(3000);
    for (const spot of ["C40 tailgate hinge", "G12 tailgate frame", "G2 inner wing, right"]) {
      await p.getByRole("button", { name: spot, exact: true }).click();
      await p.waitForTimeout(2600);
    }
    await p.getByRole("button", { name: "hands off" }).click();
    await p.waitForTimeout(1200);
  },
});
await shoot("mend", `/jobs/${lamps}/mend`, {
  act: (p) =>
    p
      .getByRole("button", { name: /^(G12|W11|C40\.2)$/ })
      .first()
      .click(),
});
await shoot("vehicles", "/vehicles");
const drawn = (p) => p.waitForTimeout(1500);
await shoot("slice", "/vehicles/plover/circuit?of=L10&at=W222&engine=idling", { act: drawn });
await shoot("shared", "/vehicles/plover/shared?fails=L10,L13,L15&works=L11,L14");
await shoot("grounds", "/vehicles/brigg/grounds");
await shoot("fuses", "/vehicles/plover/fuses?fuse=F15&engine=idling", {
  theme: "dark",
  act: (p) => p.getByLabel("Drop over it").fill("10mV"),
});
await shoot("face", "/vehicles/plover/faces?of=C10&engine=idling", { act: drawn });
await shoot("plug", "/plug", {
  act: async (p) => {
    const put = (pin, moment, text) => p.getByLabel(`Pin ${pin}, ${moment}`).fill(text);
    await put("1", "key on", "5.01");
    await put("2", "key on", "0.02");
    await put("3", "key on", "4.9");
    await put("3", "engine turning", "t");
    await p.waitForTimeout(2500);
  },
});
await browser.close();
