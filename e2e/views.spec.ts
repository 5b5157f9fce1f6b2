import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Page } from "@playwright/test";
import { demoJob, openJob, uuid7, workAs } from "./pages.ts";
import { BASE_URL } from "./playwright.config.ts";

/** Every view, on demo data that shows it in full. */
const VIEWS: readonly (readonly [string, (page: Page) => Promise<string>])[] = [
  ["board", async () => "/"],
  ["new job", async () => "/jobs/new"],
  ["complaint", async (p) => `/jobs/${await demoJob(p, /rear screen/)}/complaint`],
  ["codes", codesJob],
  ["tests of the trade", async (p) => `/jobs/${await demoJob(p, /work lamps/)}/trace?test=drop-walk`],
  ["circuit", async (p) => `/jobs/${await demoJob(p, /work lamps/)}/circuit`],
  ["circuit, empty", async (p) => `/jobs/${await openJob(p, "nothing yet")}/circuit`],
  ["trace", async (p) => `/jobs/${await demoJob(p, /work lamps/)}/trace`],
  ["trace, empty", async (p) => `/jobs/${await openJob(p, "nothing yet")}/trace`],
  ["mend", async (p) => `/jobs/${await demoJob(p, /rear screen/)}/mend`],
  ["prove", async (p) => `/jobs/${await demoJob(p, /rear screen/)}/prove`],
  ["record", async (p) => `/jobs/${await demoJob(p, /turns over so slowly/)}/record`],
  ["record, open", async (p) => `/jobs/${await demoJob(p, /rear screen/)}/record`],
  ["planner", async () => "/planner"],
  ["shop", async () => "/shop"],
  ["vehicles", async () => "/vehicles"],
  ["new vehicle", async () => "/vehicles/new"],
  ["vehicle, start", async () => "/vehicles/ouse/circuit"],
  ["vehicle, slice", async () => "/vehicles/ouse/circuit?of=FL2&at=W67"],
  ["vehicle, shared", async () => "/vehicles/ouse/shared?fails=FL1,FL2&works=CLM"],
  ["vehicle, grounds", async () => "/vehicles/gritter/grounds"],
  ["vehicle, fuses", async () => "/vehicles/ouse/fuses?fuse=F14"],
  ["vehicle, buses", async () => "/vehicles/ouse/buses"],
  ["vehicle, looms", async () => "/vehicles/ouse/looms"],
  ["vehicle, connectors", async () => "/vehicles/ouse/faces?of=C3"],
  ["vehicle, text", async () => "/vehicles/rig-horn/text"],
  ["vehicle, in and out", async () => "/vehicles/ouse/transfer"],
  ["vehicle, versions", async () => "/vehicles/ouse/versions"],
  ["unknown vehicle", async () => "/vehicles/nobody/circuit"],
  ["unknown connector", async () => "/plug"],
  ["unknown job", async () => "/jobs/0190a1b2-c3d4-7e5f-8a9b-000000000000/trace"],
  ["unknown page", async () => "/nowhere"],
];

/** A job with a scan in which one code follows from another. */
async function codesJob(page: Page): Promise<string> {
  const id = await openJob(
    page,
    "codes",
    "BAT(12.6V) -- W1 RD 6mm2 1m -- F1(10A) -- W2 RD 1mm2 1m -- L1(lamp 21W) -- W3 BN 1mm2 1m -- G1\nG1 -- BK 25mm2 0.5m -- BAT",
  );
  const scan = {
    format: "rheonom-scan",
    version: 1,
    takenAt: new Date().toISOString(),
    source: "typed",
    modules: [{ id: "ECM", answers: false }],
    codes: [
      { module: "BCM", code: "U0100", failureType: "87", status: "active" },
      { module: "BCM", code: "P0118", status: "stored" },
    ],
  };
  const state = { key: "run", engine: "stopped", on: [], temperatureC: 20, opened: [], bridged: [] };
  const event = { id: uuid7(), jobId: id, at: new Date().toISOString(), by: "Test", type: "codes-read", data: { scan, state } };
  expect((await page.request.post(`/api/jobs/${id}/events`, { data: { events: [event] } })).status()).toBe(201);
  return `/jobs/${id}/codes`;
}

async function seriousFindings(page: Page, rules?: string[]): Promise<string[]> {
  const axe = new AxeBuilder({ page });
  const { violations } = await (rules === undefined ? axe : axe.withRules(rules)).analyze();
  return violations
    .filter((v) => v.impact === "serious" || v.impact === "critical")
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(" | ")}`);
}

/** One browser tab that goes from view to view, as a technician's does: what it has loaded once is there. */
const views = test.extend<object, { tab: Page }>({
  tab: [
    async ({ browser }, use) => {
      const context = await browser.newContext({ baseURL: BASE_URL, viewport: { width: 1280, height: 800 }, serviceWorkers: "block" });
      const page = await context.newPage();
      await workAs(page, "Pell Anderby", "light");
      await use(page);
      await context.close();
    },
    { scope: "worker" },
  ],
});

for (const [name, address] of VIEWS) {
  views(`${name}: no serious accessibility finding in either theme, nothing cut off sideways`, async ({ tab: page }) => {
    const errors: string[] = [];
    const note = (e: Error): void => void errors.push(e.message);
    page.on("pageerror", note);
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(await address(page));
    await expect(page.locator("h1, h2").first()).toBeVisible();
    await expect(page.locator("[role=status]").filter({ hasText: /…$/ })).toHaveCount(0);
    expect(await seriousFindings(page), "light").toEqual([]);
    await page.getByRole("button", { name: "Dark theme" }).click();
    await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
    // The same elements in other colours.
    expect(await seriousFindings(page, ["color-contrast", "link-in-text-block"]), "dark").toEqual([]);
    // 640 px is what is left of 1280 at 200 % zoom.
    for (const width of [1280, 820, 640]) {
      await page.setViewportSize({ width, height: 800 });
      const over = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
      expect(over, `wider than ${width}`).toBeLessThanOrEqual(0);
    }
    page.off("pageerror", note);
    expect(errors).toEqual([]);
  });
}

test("dialogs and menus have no serious finding either, and close with Escape", async ({ page }) => {
  await workAs(page, "Pell Anderby");
  await page.goto(`/jobs/${await demoJob(page, /rear screen/)}/prove`);
  await expect(page.getByRole("heading", { name: "Verify" })).toBeVisible();
  for (const [key, title] of [
    ["?", "Verify"],
    ["t", "Temporary changes"],
  ] as const) {
    await page.locator("body").press(key);
    await expect(page.getByRole("dialog", { name: title })).toBeVisible();
    expect(await seriousFindings(page)).toEqual([]);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
  }
  await page.keyboard.press("Control+k");
  await page.keyboard.type("turns over so");
  await expect(page.getByRole("menuitem")).toHaveCount(1);
  // The list's focus follows the typing with a short delay; what counts is where it comes to rest.
  await expect.poll(() => seriousFindings(page)).toEqual([]);
  await page.keyboard.press("Enter");
  await expect(page.getByText("HR 4")).toBeVisible();
});

test("targets are at least 44 px high where a gloved finger must hit them", async ({ page }) => {
  await workAs(page, "Pell Anderby");
  await page.goto(`/jobs/${await demoJob(page, /work lamps/)}/trace`);
  await expect(page.getByLabel("Verdict")).toBeVisible();
  const small = await page.evaluate(() =>
    [...document.querySelectorAll("header a, header button, main button:not(table button), main input[type=text], [role=tab]")]
      .map((e) => ({ name: e.textContent ?? "", height: e.getBoundingClientRect().height }))
      .filter((e) => e.height > 0 && e.height < 43.5),
  );
  expect(small).toEqual([]);
});
