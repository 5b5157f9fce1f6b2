import { expect, type Page } from "@playwright/test";
import { vehicleState, type Fault, type VehicleState } from "../packages/core/src/circuit/index.ts";
import { shownBy, type Observable } from "../packages/core/src/diagnosis/index.ts";
import type { Harness } from "../packages/core/src/harness/index.ts";
import { displayText } from "../packages/core/src/instruments/index.ts";
import { foldJob, jobEvent, trayInModel } from "../packages/core/src/job/index.ts";
import { parseNotation } from "../packages/core/src/notation/index.ts";
import { saidOn } from "../apps/web/src/job/said.ts";
import { reading } from "./pages.ts";

/** What somebody does with the application, counted: a press, a tap, a text typed into a field. Readings count apart: leads, digits, Enter. */
export class Hands {
  interactions = 0;
  readings = 0;
  async do(act: Promise<unknown>): Promise<void> {
    this.interactions++;
    await act;
  }
}

const MOST_TESTS = 16;
/** What a whole job may take besides typed readings. */
export const MOST_INTERACTIONS = 15;

/** The job of the page as the server has it. */
async function jobOf(page: Page): Promise<{ harness: Harness; state: VehicleState }> {
  const id = /jobs\/([^/]+)/.exec(page.url())![1]!;
  const { events } = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: unknown[] };
  const view = foldJob(events.map((e) => jobEvent.parse(e)))!;
  const harness = parseNotation(view.circuit!.notation).harness!;
  const kept = await page.evaluate((key) => localStorage.getItem(key), `rheonom.bench.${id}`);
  const drawn = vehicleState.parse(
    (JSON.parse(kept ?? "{}") as { state?: unknown }).state ?? view.seen.find((s) => s.data.wrong)!.data.state,
  );
  return { harness, state: { ...drawn, ...trayInModel(harness, view) } };
}

/** The state after what the card says is to be done first: "key run, SW13 on". */
function broughtAbout(now: VehicleState, first: string): VehicleState {
  let state = now;
  for (const wish of first.split(", ").filter((w) => w !== "")) {
    const [what, how] = [wish.slice(0, wish.indexOf(" ")), wish.slice(wish.indexOf(" ") + 1)];
    if (what === "key") state = { ...state, key: how as VehicleState["key"] };
    else if (what === "engine") state = { ...state, engine: how as VehicleState["engine"] };
    else if (how === "on" || how === "off")
      state = { ...state, on: [...state.on.filter((s) => s !== what), ...(how === "on" ? [what] : [])].sort() };
    else throw new Error(`"${wish}" is not brought about by this test.`);
  }
  return state;
}

/** What the vehicle with these faults shows, as it is typed. */
async function shownOn(page: Page, faults: readonly Fault[], observe: Observable, first = ""): Promise<string> {
  const { harness, state: now } = await jobOf(page);
  const state = broughtAbout(now, first);
  const shown = shownBy(harness, { state, observe }, faults);
  if (shown.kind === "word") return saidOn(shown.word);
  if (shown.kind === "over") return "OL";
  const quantity = observe.kind === "ohms" ? "ohms" : observe.kind === "amps" ? "amps" : "volts";
  return displayText(quantity, shown.kind === "value" ? shown.value : (shown.low + shown.high) / 2);
}

/** Does what the next card says, with readings off a vehicle that has these faults, until it is enough. */
export async function followCard(page: Page, hands: Hands, faults: readonly Fault[]): Promise<void> {
  const card = page.getByRole("region", { name: "Next test" });
  const suspects = page.getByRole("region", { name: "Suspects" });
  for (let i = 0; i < MOST_TESTS; i++) {
    await expect(suspects).toHaveAttribute("aria-busy", "false");
    if ((await card.getByRole("link", { name: "Go to Repair" }).count()) > 0) return;
    const leads = card.getByRole("button", { name: /se these leads/ });
    if ((await leads.count()) > 0) {
      const kind = /Next: ohms/.test((await card.textContent()) ?? "") ? "ohms" : "volts";
      const [red, black] = await card.locator("dd:nth-of-type(odd)").allTextContents();
      await leads.click();
      const text = await shownOn(page, faults, { kind, red: red!, black: black! });
      await reading(page).fill(text);
      await reading(page).press("Enter");
      hands.readings++;
    } else {
      const part = /\b[Ii]s (\w+)|\b[Dd]oes (\w+)/
        .exec((await card.textContent()) ?? "")
        ?.slice(1)
        .find(Boolean);
      if (part === undefined) {
        await card.getByRole("button", { name: /Another test/ }).click();
        hands.interactions++;
        continue;
      }
      const first = card.getByText(/^First:/);
      const wish = (await first.count()) > 0 ? ((await first.textContent()) ?? "").replace(/^First:\s*/, "") : "";
      const said = await shownOn(page, faults, { kind: "part", part }, wish);
      await hands.do(card.getByRole("button", { name: said, exact: true }).click());
    }
    // The card is another one, or says that it is thinking.
    await page.waitForTimeout(150);
  }
  throw new Error("Not enough to act after all these tests.");
}

/** Saves the repair that the card says; `did` in other words than the method, or "". */
export async function repair(page: Page, hands: Hands, did: string): Promise<void> {
  await hands.do(page.getByRole("region", { name: "Next test" }).getByRole("link", { name: "Go to Repair" }).click());
  await expect(page.getByRole("textbox", { name: "Where" })).not.toHaveValue("");
  // What the finding is called is filled in with it.
  await expect(page.getByRole("button", { name: /Fault type/ })).not.toContainText("not stated");
  if (did !== "") await hands.do(page.getByRole("textbox", { name: "Done" }).fill(did));
  await hands.do(page.getByRole("button", { name: "Save repair" }).click());
  await expect(page.getByRole("heading", { name: "Verify", exact: true })).toBeVisible();
}

/** Says that it is safe to drive, and closes. */
export async function closeJob(page: Page, hands: Hands): Promise<void> {
  await hands.do(page.getByRole("radio", { name: "yes" }).press("Space"));
  await hands.do(page.getByRole("button", { name: "Close the job" }).click());
  await expect(page.getByText("This job is closed")).toBeVisible();
}

/** Takes every reading again that Verify asks for, off a vehicle that has these faults left. */
export async function repeatReadings(page: Page, hands: Hands, faults: readonly Fault[]): Promise<void> {
  await page
    .getByText(/Does it work now|Not repeated yet/)
    .first()
    .waitFor();
  for (const again of await page.getByRole("textbox", { name: /^Again: / }).all()) {
    const label = await again.evaluate((e: HTMLInputElement) => e.labels?.[0]?.textContent ?? "");
    // Levels are captured again on the Bench.
    const [, red, black] = /^Again: (\S+) against (\S+)/.exec(label) ?? [];
    if (red === undefined) continue;
    await again.fill(await shownOn(page, faults, { kind: "volts", red, black: black! }));
    await again.press("Enter");
    hands.readings++;
  }
}

/** Repair, verify and close, from the card that says what to repair, with readings off a vehicle that has these faults left. */
export async function finish(page: Page, hands: Hands, did: string, faults: readonly Fault[]): Promise<void> {
  await repair(page, hands, did);
  await repeatReadings(page, hands, faults);
  const works = page.getByRole("region", { name: "Does it work now" }).getByRole("button", { name: "Works" });
  for (let i = 0; i < (await works.count()); i++) await hands.do(works.nth(i).click());
  await closeJob(page, hands);
}
