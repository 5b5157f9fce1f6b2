import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Locator, type Page } from "@playwright/test";
import { closeJob, followCard, Hands, MOST_INTERACTIONS, repair, repeatReadings } from "./by-the-card.ts";
import { demoJob, openJob, workAs } from "./pages.ts";

const line = (page: Page) => page.getByRole("region", { name: "Connection to the vehicle" });
const simulated = (page: Page) => page.getByRole("region", { name: "The simulated vehicle" });

async function connect(page: Page): Promise<void> {
  await page.getByRole("button", { name: "Find the simulated vehicle" }).click();
  await page.getByRole("button", { name: /^Connect to 0NL/ }).click();
  await expect(line(page).getByText(/^Connected to 0NL/)).toBeVisible();
}
const key = async (page: Page, position: string): Promise<void> => {
  await simulated(page).getByText(position, { exact: true }).click();
};
/** Asks all modules until their monitors, which take two seconds, have found it. */
async function scanUntil(page: Page, row: Locator, words: string): Promise<void> {
  await expect(async () => {
    await page.getByRole("button", { name: "Scan all 4 modules" }).click({ timeout: 10_000 });
    await expect(row).toContainText(words, { timeout: 3000 });
  }).toPass();
}

// Both work the same simulated vehicle, and the second repairs it.
test.describe.serial("the engine lamp's vehicle", () => {
  test("a vehicle is scanned on its own line, codes are written down before they are cleared, and what they share is found by giving a ground", async ({
    page,
  }) => {
    await workAs(page, "Ansa Tollan");
    await page.goto(`/jobs/${await demoJob(page, /engine lamp is on/)}/codes`);
    await connect(page);
    await expect(page.getByRole("button", { name: "Clear codes in all modules" })).toBeDisabled();
    const row = (code: string) => page.getByRole("row", { name: new RegExp(`^ECM ${code}`) });
    // With the key off not every module need answer, and that is no finding.
    await page.getByRole("button", { name: "Scan all 4 modules" }).click();
    await expect(page.getByText(/TCM is not expected to answer with the key and engine as they were/)).toBeVisible();
    // Nothing was tested yet with a tester on it: these are of the drives before it came in.
    await expect(row("P0118")).toContainText(/values? stored with it/);
    await key(page, "run");
    await expect(simulated(page).getByRole("status")).toContainText("answering: BCM, CLU, ECM, TCM");
    await scanUntil(page, row("P0118"), "active");
    await expect(row("P0113")).toContainText("cause");
    await row("P0118")
      .getByText(/values? stored with it/)
      .click();
    await expect(row("P0118")).toContainText("coolant temperature: -50 °C");
    await expect(page.getByRole("region", { name: "What they share" })).toContainText("sensor return ECM.R2");
    // A ground at the sensors' own end: both turn from active to stored while it is watched.
    const watch = page.getByRole("region", { name: "Temporary ground test" });
    await watch.getByRole("button", { name: /Ground to/ }).click();
    await page.getByRole("option", { name: "MAP.N" }).click();
    await watch.getByRole("button", { name: "Fit a fused lead to battery negative" }).click();
    await watch.getByRole("button", { name: "Watch the codes’ status" }).click();
    await expect(watch.getByText(/P0118: was active, is stored/)).toBeVisible();
    await expect(watch.getByText(/P0113: was active, is stored/)).toBeVisible();
    await watch.getByRole("button", { name: "Stop watching" }).click();
    await watch.getByRole("button", { name: "Take the lead off MAP.N" }).click();
    await page.getByRole("button", { name: "Clear codes in all modules" }).click();
    await expect(page.getByText(/Turn the key, ask all modules again/)).toBeVisible();
    await expect(page.getByRole("button", { name: "Clear codes in all modules" })).toBeDisabled();
    await scanUntil(page, row("P0118"), "back at once");
  });

  test("a lost sensor ground, from codes to the closed job", async ({ page }) => {
    const hands = new Hands();
    await workAs(page, "Ansa Tollan");
    await page.goto("/?find=engine lamp is on");
    const row = page.getByRole("row", { name: /engine lamp is on/ });
    await hands.do(row.getByRole("link").click());
    await hands.do(page.getByRole("link", { name: "Codes" }).click());
    await hands.do(page.getByRole("button", { name: "Find the simulated vehicle" }).click());
    await hands.do(page.getByRole("button", { name: /^Connect to 0NL/ }).click());
    const simulated = page.getByRole("region", { name: "The simulated vehicle" });
    await hands.do(simulated.getByText("run", { exact: true }).click());
    await expect(simulated.getByRole("status")).toContainText("answering: BCM, CLU, ECM, TCM");
    // Monitors take two seconds to find it.
    await page.waitForTimeout(4000);
    await hands.do(page.getByRole("button", { name: "Scan all 4 modules" }).click());
    await hands.do(page.getByRole("link", { name: /^Trace / }).click());
    await followCard(page, hands, [{ kind: "open", link: "C4.2" }]);
    await expect(page.getByRole("region", { name: "Next test" })).toContainText("C4.2");
    await repair(page, hands, "");
    await hands.do(page.getByRole("link", { name: "Read codes again" }).first().click());
    await expect(page.getByText(/^Connected to 0NL/)).toBeVisible();
    await page.waitForTimeout(4000);
    await hands.do(page.getByRole("button", { name: "Scan all 4 modules" }).click());
    await expect(page.getByRole("row", { name: /^ECM P0118/ })).toContainText("stored");
    await hands.do(page.getByRole("link", { name: "Verify" }).click());
    // The readings that were off are taken once more too.
    await repeatReadings(page, hands, []);
    await closeJob(page, hands);
    test.info().annotations.push({ type: "interactions", description: `${hands.interactions}, ${hands.readings} readings` });
    expect(hands.interactions).toBeLessThanOrEqual(MOST_INTERACTIONS);
  });
});

test("the line to the vehicle is there again after a look at another screen", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  await page.goto(`/jobs/${await demoJob(page, /oil pressure gauge/)}/codes`);
  await connect(page);
  await key(page, "run");
  const live = page.getByRole("region", { name: "Live values" });
  await live.getByRole("button", { name: /^Read \d+ values/ }).click();
  await expect(live.getByText(/readings a second/)).toBeVisible();
  await page.getByRole("link", { name: "Complaint" }).click();
  await expect(page.getByRole("region", { name: "Symptoms" })).toBeVisible();
  await page.getByRole("link", { name: "Codes" }).click();
  await expect(line(page).getByText(/^Connected to 0NL/)).toBeVisible();
  // What ran on the vehicle ended with the screen that showed it.
  await expect(live.getByText(/readings a second/)).toHaveCount(0);
  await live.getByRole("button", { name: /^Read \d+ values/ }).click();
  await expect(live.getByText(/readings a second/)).toBeVisible();
});

test("what a module sees is put beside what is really there, and counts for what is left", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await demoJob(page, /low range/);
  await page.goto(`/jobs/${id}/codes`);
  await connect(page);
  await key(page, "run");
  await expect(simulated(page).getByRole("status")).toContainText("answering: BCM, CLU, ECM");
  const live = page.getByRole("region", { name: "Live values" });
  await live.getByRole("button", { name: /^Read \d+ values/ }).click();
  await expect(live.getByText(/^(9|10)\.\d readings a second/)).toBeVisible();
  await live.getByRole("button", { name: "Compare coolant temperature (T1)" }).click();
  await live.getByRole("textbox", { name: "Thermometer at ECT" }).fill("19");
  await expect(live.getByText(/module sees 1\.\d °C more/)).toBeVisible();
  await live.getByRole("button", { name: "Keep" }).click();
  await expect(live.getByRole("button", { name: "Compare coolant temperature (T1)" })).toBeVisible();
  const log = await page.request.get(`/api/jobs/${id}`);
  await expect.poll(async () => JSON.stringify(await (await page.request.get(`/api/jobs/${id}`)).json())).toContain('"ECT":19');
  expect(log.status()).toBe(200);
  // What the module wants of an output beside what the part does.
  const wanted = live.getByRole("row", { name: /^7 wanted: radiator fan/ });
  await expect(wanted).toContainText("off");
  await wanted.getByRole("button", { name: "Compare 7 wanted: radiator fan" }).click();
  await wanted.getByRole("button", { name: "does nothing" }).click();
  await expect(wanted.getByRole("button", { name: "Compare 7 wanted: radiator fan" })).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => `${v.id}: ${v.nodes[0]!.html}`)).toEqual(
    [],
  );
  await page.setViewportSize({ width: 820, height: 800 });
  expect(await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBeLessThanOrEqual(0);
  await page.setViewportSize({ width: 1280, height: 800 });
  // An output that harms nobody is worked; while the engine runs the module refuses.
  await live.getByRole("button", { name: "7 radiator fan" }).click();
  await expect(live.getByRole("button", { name: "7 radiator fan" })).toHaveAttribute("aria-pressed", "true");
  await live.getByRole("button", { name: "7 radiator fan" }).click();
  await simulated(page).getByRole("button", { name: "Crank" }).click();
  await expect(simulated(page).getByRole("status")).toContainText("engine idling");
  await live.getByRole("button", { name: "7 radiator fan" }).click();
  await expect(line(page).getByText(/the conditions are not right for it/)).toBeVisible();
  // What is pulled goes into the tray, and its module falls silent.
  await simulated(page).getByRole("button", { name: "Stop the engine" }).click();
  await simulated(page)
    .getByRole("button", { name: /Unplug or pull/ })
    .click();
  await page.getByRole("option", { name: /^F11 / }).click();
  await expect(simulated(page).getByRole("status")).toContainText("answering: CLU, ECM");
  await simulated(page).getByRole("button", { name: "Put F11 back" }).click();
  await expect(simulated(page).getByRole("status")).toContainText("answering: BCM, CLU, ECM");
});

test("an address with nobody behind it, a wrong one and another site's page are told so", async ({ page, playwright }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "A vehicle on the network");
  await page.goto(`/jobs/${id}/codes`);
  await expect(page.getByRole("button", { name: "Find the simulated vehicle" })).toHaveCount(0);
  await page.getByRole("textbox", { name: "Port" }).fill("99999");
  await expect(page.getByText("A number from 1 to 65535.")).toBeVisible();
  await page.getByRole("textbox", { name: "Port" }).fill("9");
  await page.getByRole("button", { name: "Find vehicle" }).click();
  await expect(line(page).getByText(/No vehicle answers|cannot be asked/)).toBeVisible();
  const other = await playwright.request.newContext({ baseURL: page.url() });
  const refused = await other.get(`/api/jobs/${id}/link`, {
    headers: {
      Connection: "Upgrade",
      Upgrade: "websocket",
      Origin: "http://elsewhere.example",
      "Sec-WebSocket-Version": "13",
      "Sec-WebSocket-Key": "AAAAAAAAAAAAAAAAAAAAAA==",
    },
  });
  expect(refused.status()).toBe(403);
  await other.dispose();
});

test("the complaint takes what it stands like, and shows what each answer does", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Dies at the lights");
  await page.goto(`/jobs/${id}/complaint`);
  await page.getByRole("group", { name: "Warning lamps on" }).getByRole("button", { name: "charge" }).click();
  await expect(page.getByText("The charging circuit is searched with the rest.")).toBeVisible();
  await page.getByText("not safe to drive", { exact: true }).click();
  await expect(page.getByText(/offer recovery/)).toBeVisible();
  await page.getByRole("textbox", { name: "Why" }).fill("stalls in traffic");
  await page.getByRole("radiogroup", { name: "Reproduced here" }).getByText("no", { exact: true }).click();
  await expect(page.getByText(/readings with the fault absent count less/)).toBeVisible();
  await page.getByRole("button", { name: "with heavy loads on" }).click();
  await page.getByRole("button", { name: /^Save|^Keep/ }).click();
  await expect(page).toHaveURL(/circuit|trace/);
  await page.goto(`/jobs/${id}/record`);
  await expect(page.getByText("not safe to drive: stalls in traffic")).toBeVisible();
});

test("a drive records what the modules say meanwhile, and scans show which monitors have not run since", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await demoJob(page, /fuel pump is not/);
  // A repair, so that there is something to verify.
  await page.goto(`/jobs/${id}/mend`);
  await page.getByLabel("Where", { exact: true }).fill("G1");
  await page.getByRole("textbox", { name: "Found" }).fill("Rust under the lug.");
  await page.getByRole("button", { name: "Save repair" }).click();
  await page.goto(`/jobs/${id}/codes`);
  await connect(page);
  await key(page, "run");
  await expect(simulated(page).getByRole("status")).toContainText(/answering: .*ECM/);
  const scan = page.getByRole("button", { name: /^Scan all \d+ modules/ });
  await scan.click();
  // Nothing is cleared before the server has what was read.
  await expect.poll(async () => JSON.stringify(await (await page.request.get(`/api/jobs/${id}`)).json())).toContain('"codes-read"');
  await page.getByRole("button", { name: "Clear codes in all modules" }).click();
  await expect(page.getByText(/Turn the key, ask all modules again/)).toBeVisible();
  await scan.click();
  await expect(scan).toBeEnabled();
  await page.getByRole("link", { name: "Verify" }).click();
  const scans = page.getByRole("region", { name: "Scans compared" });
  await expect(scans.getByRole("row", { name: /monitor: particulate filter/ })).toContainText("not complete");

  const drive = page.getByRole("region", { name: "Test drive" });
  await drive.getByRole("button", { name: "Start the clock" }).click();
  await expect(drive.getByRole("group", { name: "Live values of the drive" })).toContainText("engine speed");
  await drive.getByRole("button", { name: "Stop the clock" }).click();
  await expect(drive.getByText("Recorded, saved with the drive.")).toBeVisible();
  await drive.getByText("fault did not appear").click();
  await drive.getByRole("button", { name: "Save test drive" }).click();
  await expect(drive.getByText(/live values meanwhile: .*engine speed/)).toBeVisible();
});
