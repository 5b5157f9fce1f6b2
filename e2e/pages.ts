import { expect, type Locator, type Page } from "@playwright/test";

/** A circuit that is not among the demo circuits: a cab heater on a long feed. */
export const HEATER = `circuit "Cab heater, bench van"
BAT(12.6V) -- W1 RD 6mm2 0.8m -- F7(25A) -- W2 RD/BU 2.5mm2 2.4m -- SW3 -- W3 BU 2.5mm2 1.6m -- C5.2 -- W4 BU 2.5mm2 0.9m -- HTR(heater 15A "cab heater")
HTR -- W5 BK 2.5mm2 0.7m -- G6
G1 -- W6 BK 25mm2 0.5m -- BAT`;

/** Says who works on this device, so that no dialog asks. */
export async function workAs(page: Page, person: string, theme: "light" | "dark" = "light"): Promise<void> {
  await page.addInitScript(([p, t]) => localStorage.setItem("rheonom.session", JSON.stringify({ person: p, theme: t })), [
    person,
    theme,
  ] as const);
}

/** Opens a job by the API, as another device would. Returns its id. */
export async function openJob(page: Page, words: string, notation?: string): Promise<string> {
  const jobId = uuid7();
  const at = new Date().toISOString();
  const opened = {
    type: "job-opened",
    data: { vehicle: "Bench van", registration: "B 1", mileage: "", words, conditions: "", triedBefore: "", highVoltage: false },
  };
  const answer = await page.request.post("/api/jobs", { data: { id: uuid7(), jobId, at, by: "Test", ...opened } });
  expect(answer.status()).toBe(201);
  if (notation !== undefined) {
    const circuit = { id: uuid7(), jobId, at, by: "Test", type: "circuit-set", data: { notation } };
    expect((await page.request.post(`/api/jobs/${jobId}/events`, { data: { events: [circuit] } })).status()).toBe(201);
  }
  return jobId;
}

export function uuid7(): string {
  const time = Date.now().toString(16).padStart(12, "0");
  const random = crypto.randomUUID();
  return `${time.slice(0, 8)}-${time.slice(8)}-7${random.slice(15)}`;
}

/** What the last event of a kind holds, once it has reached the server: a screen does not wait for that. */
export async function lastOf<T>(page: Page, id: string, type: string): Promise<T> {
  let last: T | undefined;
  await expect
    .poll(async () => {
      const { events } = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: { type: string; data: T }[] };
      last = events.findLast((e) => e.type === type)?.data;
      return last;
    })
    .toBeDefined();
  return last!;
}

/** Ids of the demo jobs by a word of the complaint. */
export async function demoJob(page: Page, words: RegExp): Promise<string> {
  const { jobs } = (await (await page.request.get("/api/jobs?limit=200&sort=lastAt&order=asc")).json()) as {
    jobs: { id: string; words: string }[];
  };
  const found = jobs.find((j) => words.test(j.words));
  expect(found, String(words)).toBeDefined();
  return found!.id;
}

export const circuitText = (page: Page): Locator => page.getByRole("textbox", { name: "Circuit text" });
export const redLead = (page: Page): Locator => page.getByRole("textbox", { name: "Red lead" });
export const reading = (page: Page): Locator => page.getByRole("textbox", { name: "Reading", exact: true });
/** The chip of key, engine or presence in the state bar; a tap opens the choice. */
export const stateChip = (page: Page, label: "Key" | "Engine" | "Fault now"): Locator =>
  page.getByLabel("State of the vehicle").getByRole("button", { name: `${label}:` });
/** Two taps on a chip of the state bar: open it, choose. */
export async function choose(page: Page, label: "Key" | "Engine" | "Fault now", option: string): Promise<void> {
  await stateChip(page, label).click();
  await page.getByRole("radiogroup", { name: label }).getByText(option, { exact: true }).click();
  await expect(stateChip(page, label)).toContainText(option);
}
/** The toggle of a hand switch in the state bar. */
export const handSwitch = (page: Page, id: string): Locator =>
  page.getByLabel("State of the vehicle").getByRole("button", { name: new RegExp(`^${id} `) });

/** Types a reading with the cursor in the red field, as a technician does: place, Enter, value, Enter. */
export async function takeReading(page: Page, red: string, value: string): Promise<void> {
  await expect(redLead(page)).toBeFocused();
  await page.keyboard.type(red);
  await page.keyboard.press("Enter");
  await expect(reading(page)).toBeFocused();
  await page.keyboard.type(value);
  await page.keyboard.press("Enter");
  await expect(redLead(page)).toBeFocused();
}

/** Entries that the browser keeps because the server has not acknowledged them. */
export const keptOnDevice = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((done, failed) => {
        const asked = indexedDB.open("rheonom");
        asked.onerror = () => failed(new Error("the browser's database does not open"));
        asked.onsuccess = () => {
          const count = asked.result.transaction("outbox").objectStore("outbox").count();
          count.onsuccess = () => {
            asked.result.close();
            done(count.result);
          };
        };
      }),
  );
