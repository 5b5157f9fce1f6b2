/**
 * From the customer's words to the next test, in the built application in headless Chromium: interactions and times from the board to the first ranking and the first proposal, then
 * from a reading to verdict, suspects and next test, and how far the next card and the reading field move meanwhile. Prints a table. Run after a build:
 * node --import ./scripts/ts-hook.mjs bench/front-door.ts [repeats]
 */
import { chromium, type Page } from "@playwright/test";
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

const REPEATS = Number(process.argv[2] ?? 6);
const PORT = 4693;
const BASE = `http://127.0.0.1:${PORT}`;
const folder = mkdtempSync(join(tmpdir(), "rheonom-bench-"));
const server = spawn(process.execPath, ["apps/server/dist/main.mjs"], {
  env: { ...process.env, PORT: String(PORT), HOST: "127.0.0.1", RHEONOM_DATA: folder, RHEONOM_DEMO: "1" },
  stdio: "ignore",
});

async function up(): Promise<void> {
  for (let i = 0; i < 200; i++) {
    const ok = await fetch(`${BASE}/api/health`).then(
      (r) => r.ok,
      () => false,
    );
    if (ok) return;
    await new Promise((r) => setTimeout(r, 300));
  }
  throw new Error("the server does not come up; is it built?");
}

const quantile = (all: readonly number[], q: number): number => {
  const sorted = all.toSorted((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.ceil(q * sorted.length) - 1)] ?? NaN;
};
const row = (name: string, all: readonly number[], unit: string): string =>
  `| ${name} | ${all.length} | ${quantile(all, 0.5).toFixed(0)} | ${quantile(all, 0.95).toFixed(0)} | ${Math.max(...all).toFixed(0)} | ${unit} |`;

/** Tapped as soon as it is offered, and after it was read for two seconds. */
const ranking = { "at once": [] as number[], "after two seconds": [] as number[] };
const proposal = { "at once": [] as number[], "after two seconds": [] as number[] };
const interactions: number[] = [];
const verdicts: number[] = [];
const atHand: number[] = [];
const proposed: number[] = [];
const moved: number[] = [];

/** The stop light on the van, from the board to Trace. */
async function fromBoard(page: Page, tapped: keyof typeof ranking): Promise<void> {
  let count = 0;
  await page.goto("/");
  await page.getByRole("heading", { name: "Board" }).waitFor();
  count++;
  await page.keyboard.press("c");
  await page.getByRole("combobox", { name: "Vehicle" }).waitFor();
  count++;
  await page.keyboard.type("plover");
  await page.getByRole("option").waitFor();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  count++;
  await page.getByLabel("In the customer’s words").fill("stop light, left, is dead");
  count++;
  await page.getByRole("button", { name: "Open the job" }).click();
  const offer = page.getByRole("button", { name: "L13 stop light, left: dead" });
  await offer.waitFor({ timeout: 60_000 });
  count++;
  if (tapped !== "at once") await page.waitForTimeout(2000);
  await offer.click();
  await page.getByRole("list", { name: "Symptom lines" }).getByRole("listitem").waitFor();
  const stands = performance.now();
  await page.getByRole("list", { name: "Ranking" }).waitFor({ timeout: 60_000 });
  ranking[tapped].push(performance.now() - stands);
  await page.getByText("First test:").waitFor({ timeout: 60_000 });
  proposal[tapped].push(performance.now() - stands);
  interactions.push(count);
  await page.getByRole("link", { name: "Start tracing" }).click();
}

/** What is in the page at the moment a reading is recorded, and when verdict and next test stand there, ms. Timed by the page itself: looking from outside takes longer than what is looked at. */
async function recorded(page: Page, enter: () => Promise<void>): Promise<void> {
  const timed = page.evaluate(
    () =>
      new Promise<{ verdict: number; next: number }>((done) => {
        const count = (): string =>
          [...document.querySelectorAll('[role="tab"]')].find((t) => t.textContent.startsWith("Readings"))?.textContent ?? "";
        const isBusy = (name: string): boolean => document.querySelector(`[aria-label="${name}"]`)?.getAttribute("aria-busy") === "true";
        const before = count();
        let began = 0;
        let verdict = 0;
        document.addEventListener(
          "keydown",
          (e) => {
            if (e.key === "Enter" && began === 0) began = performance.now();
          },
          { capture: true },
        );
        const look = (): void => {
          if (began === 0 || count() === before) return;
          const now = performance.now() - began;
          if (verdict === 0 && !isBusy("Verdict")) verdict = now;
          if (verdict === 0 || isBusy("Next test")) return;
          watch.disconnect();
          done({ verdict, next: now });
        };
        const watch = new MutationObserver(look);
        watch.observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
      }),
  );
  await enter();
  const { verdict, next } = await timed;
  verdicts.push(verdict);
  into.push(next);
}
let into: number[] = atHand;

/** Readings as a good circuit has them: first as the card proposes, after hands have worked; then at places along the way that nobody proposed, one right after the other. */
async function readings(page: Page): Promise<void> {
  const card = page.getByRole("region", { name: "Next test" });
  const field = page.getByRole("textbox", { name: "Reading", exact: true });
  const red = page.getByRole("textbox", { name: "Red lead" });
  const settled = (): Promise<void> => page.locator('section[aria-label="Suspects"][aria-busy="false"]').waitFor({ timeout: 60_000 });
  const where = async (): Promise<readonly (number | undefined)[]> => [(await card.boundingBox())?.y, (await field.boundingBox())?.y];
  const record = async (value: string): Promise<void> => {
    const before = await where();
    await field.fill(value);
    await recorded(page, () => field.press("Enter"));
    const after = await where();
    moved.push(Math.max(...after.map((y, i) => Math.abs((y ?? NaN) - (before[i] ?? NaN)))));
    await settled();
  };
  await settled();
  into = proposed;
  for (let i = 0; i < PROPOSED; i++) {
    const leads = card.getByRole("button", { name: /se these leads/ });
    for (let k = 0; k < 8 && (await leads.count()) === 0; k++) await card.getByRole("button", { name: /Another test/ }).click();
    if ((await leads.count()) === 0) break;
    const expected = /expected\s+([\d.]+)\s*(m?)V/.exec((await card.textContent()) ?? "");
    if (expected === null) break;
    await leads.click();
    await page.waitForTimeout(HANDS_MS);
    await record(`${expected[1]} ${expected[2]}V`);
  }
  into = atHand;
  for (const [place, value] of [
    ["F5.1", "12.55"],
    ["F5.2", "12.53"],
    ["C30.2b", "12.3"],
  ] as const) {
    await red.fill(place);
    await red.press("Enter");
    await record(value);
  }
}
/** Tests that are done as the card proposes, and how long hands take for one, ms. */
const PROPOSED = 3;
const HANDS_MS = 8000;

await up();
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH ?? "/usr/bin/chromium",
  args: ["--headless", "--no-sandbox", "--disable-gpu"],
});
try {
  for (let i = 0; i < REPEATS; i++) {
    const context = await browser.newContext({ baseURL: BASE, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await page.addInitScript(() => localStorage.setItem("rheonom.session", JSON.stringify({ person: "Ansa Tollan", theme: "light" })));
    await fromBoard(page, i % 2 === 0 ? "at once" : "after two seconds");
    await readings(page);
    await context.close();
  }
} finally {
  await browser.close();
  server.kill();
  rmSync(folder, { recursive: true, force: true });
}
console.log("\n| van, stop light | times | median | 95th | worst | |\n| --- | --- | --- | --- | --- | --- |");
console.log(row("interactions from the board to the first proposal", interactions, ""));
for (const tapped of ["at once", "after two seconds"] as const) {
  console.log(row(`symptom stands → first ranking, offer tapped ${tapped}`, ranking[tapped], "ms"));
  console.log(row(`symptom stands → first test, offer tapped ${tapped}`, proposal[tapped], "ms"));
}
console.log(row("reading → verdict on the path", verdicts, "ms"));
console.log(row("finding as the card proposes, after eight seconds of hands → suspects and next test", proposed, "ms"));
console.log(row("reading anywhere along the way → suspects and next test", atHand, "ms"));
console.log(row("the next card or the reading field moves", moved, "px"));
