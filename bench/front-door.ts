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
import type { Fault, VehicleState } from "@rheonom/core/circuit";
import { predictReading, type Leads } from "@rheonom/core/instruments";
import { foldJob, jobEvent } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";

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

/** A quick typist. */
const KEY_MS = 80;

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
  await page.getByLabel("In the customer’s words").pressSequentially("stop light, left, is dead", { delay: KEY_MS });
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

/** What is really wrong, one after the other: a corroded cavity, a broken wire, a burnt-out lamp, a corroded ground wire. */
const FAULTS: readonly Fault[] = [
  { kind: "series", link: "C30.2", ohms: 40 },
  { kind: "open", link: "W228" },
  { kind: "open", link: "L13" },
  { kind: "series", link: "W234", ohms: 25 },
];

/** What the meter shows with a fault, from the circuit of the job and the state that stands on its bench. */
async function shownWith(fault: Fault, page: Page, leads: Leads): Promise<string> {
  const id = /jobs\/([^/]+)/.exec(page.url())![1]!;
  const job = (await (await fetch(`${BASE}/api/jobs/${id}`)).json()) as { events: { event: unknown }[]; bench: { state: VehicleState } };
  const view = foldJob(job.events.map((e) => jobEvent.parse("event" in e ? e.event : e)))!;
  const reading = predictReading(parseNotation(view.circuit!.notation).harness!, job.bench.state, [fault], leads);
  if (reading.kind !== "value") throw new Error(`no reading at ${JSON.stringify(leads)}`);
  return `${reading.value.toFixed(2)} V`;
}

/** Readings of a vehicle with a fault: first as the card proposes, after hands have worked; then at places along the way that nobody proposed, after the meter has settled. */
async function readings(page: Page, fault: Fault): Promise<void> {
  const card = page.getByRole("region", { name: "Next test" });
  const field = page.getByRole("textbox", { name: "Reading", exact: true });
  const red = page.getByRole("textbox", { name: "Red lead" });
  const black = page.getByRole("textbox", { name: "Black lead" });
  const settled = (): Promise<void> => page.locator('section[aria-label="Suspects"][aria-busy="false"]').waitFor({ timeout: 60_000 });
  const where = async (): Promise<readonly (number | undefined)[]> => [(await card.boundingBox())?.y, (await field.boundingBox())?.y];
  const note = (t: string): void => void (process.env.VERBOSE && console.error(t));
  const record = async (): Promise<void> => {
    const [r, b] = [await red.inputValue(), await black.inputValue()];
    const shown = await shownWith(fault, page, { quantity: "volts", red: r, black: b === "" ? "BAT.-" : b });
    note(`${r} against ${b}: ${shown}`);
    await field.fill(shown);
    const before = await where();
    await recorded(page, () => field.press("Enter"));
    note(`  verdict ${verdicts.at(-1)?.toFixed(0)} ms, next ${into.at(-1)?.toFixed(0)} ms`);
    const after = await where();
    after.forEach((y, i) => y !== undefined && before[i] !== undefined && moved.push(Math.abs(y - before[i])));
    await settled();
  };
  await settled();
  into = proposed;
  for (let i = 0; i < PROPOSED; i++) {
    const leads = card.getByRole("button", { name: /se these leads/ });
    const isVolts = async (): Promise<boolean> => (await leads.count()) > 0 && /^Next: volts/.test((await card.textContent()) ?? "");
    const another = card.getByRole("button", { name: /Another test/ });
    for (let k = 0; k < 8 && !(await isVolts()) && (await another.count()) > 0; k++) await another.click();
    if (!(await isVolts())) break;
    await leads.click();
    await page.waitForTimeout(HANDS_MS);
    await record();
  }
  into = atHand;
  for (const place of ["F5.1", "F5.2", "C30.2b", "L13.2"]) {
    await black.fill("BAT.-");
    await red.fill(place);
    await red.press("Enter");
    await page.waitForTimeout(METER_MS);
    await record();
  }
}
/** Tests that are done as the card proposes, and how long hands take for one, ms. */
const PROPOSED = 3;
const HANDS_MS = 8000;
/** How long a meter takes from when its leads touch until somebody has typed what it shows, ms. */
const METER_MS = 2000;

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
    await readings(page, FAULTS[i % FAULTS.length]!);
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
console.log(row("reading anywhere along the way, two seconds after the leads → suspects and next test", atHand, "ms"));
console.log(row("the next card or the reading field moves", moved, "px"));
