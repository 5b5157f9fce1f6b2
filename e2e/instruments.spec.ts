import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Page } from "@playwright/test";
import { createServer, type Socket } from "node:net";
import { demoJob, HEATER, openJob, uuid7, workAs } from "./pages.ts";

// One simulated meter stands behind the demo job that they share.
test.describe.configure({ mode: "serial" });

/** Opens the Bench of the job about the work lamps and connects the simulated meter. */
async function withMeter(page: Page): Promise<string> {
  await workAs(page, "Inga Torsvik");
  const id = await demoJob(page, /work lamps at the back/);
  await page.goto(`/jobs/${id}/bench`);
  const panel = page.getByRole("region", { name: "Instruments" });
  await panel.getByRole("button", { name: "Connect the simulated meter" }).click();
  await expect(panel.getByText(/stand-in meter/)).toBeVisible();
  return id;
}
const logged = async (page: Page, id: string): Promise<readonly { type: string; data: Record<string, unknown> }[]> =>
  ((await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: { type: string; data: Record<string, unknown> }[] }).events;

test("a meter is tested, its readings come in by Enter, by foot and when they stand still, and each says how its test went", async ({
  page,
}) => {
  const id = await withMeter(page);
  const panel = page.getByRole("region", { name: "Instruments" });
  await expect(panel).toContainText("self-test skipped");
  await panel.getByRole("button", { name: "Leads together" }).click();
  await panel.getByRole("button", { name: "Record" }).click();
  await expect(panel).toContainText("not tried at the battery");
  await panel.getByRole("button", { name: "Battery posts" }).click();
  await panel.getByRole("button", { name: "Record" }).click();
  await expect(panel).toContainText("self-test passed");
  await panel.getByRole("button", { name: "Foot switch" }).click();
  await page.keyboard.press("F9");
  await expect(panel).toContainText("F9");
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => v.id)).toEqual([]);

  // The line stays when the screen is left.
  await page.getByRole("link", { name: "Trace", exact: true }).click();
  const strip = page.getByRole("group", { name: "Connected meter" });
  await expect(strip).toBeVisible();
  const red = page.getByLabel("Red lead");
  const reading = page.getByRole("textbox", { name: "Reading" });
  await red.fill("LA1.1");
  await red.press("Enter");
  // What it showed before the leads were there stands still too.
  await expect(strip).toContainText(/1\d\.\d+ V.*steady/);
  await reading.press("Enter");
  await expect(red).toHaveValue("");
  await red.fill("LA1.2");
  // Half a place that is one itself is not recorded while it is typed; behind the ground a bad joint leaves volts.
  await red.press("Enter");
  await expect(strip).toContainText(/2\.\d+ V.*steady/);
  await page.keyboard.press("F9");
  await expect(red).toHaveValue("");
  // By itself, once the leads are there; not while they are nowhere.
  await strip.getByRole("button", { name: "Record when steady" }).click();
  await page.waitForTimeout(1500);
  await red.fill("BAT.+");
  await red.press("Enter");
  await expect(red).toHaveValue("");
  await page.getByRole("tab", { name: /^Readings/ }).click();
  const rows = page.getByRole("table", { name: "Readings" }).getByRole("row");
  await expect(rows.filter({ hasText: "self-test passed" })).toHaveCount(3);
  await expect
    .poll(async () => (await logged(page, id)).filter((e) => e.type === "reading-taken" && e.data["instrument"] === "connected").length)
    .toBe(3);
  const taken = (await logged(page, id)).filter((e) => e.data["instrument"] === "connected");
  expect(taken.map((e) => (e.data["leads"] as { red: string }).red)).toEqual(["LA1.1", "LA1.2", "BAT.+"]);
});

/** A meter on the network that shows 5.88 V until it is switched off. */
async function networkMeter(): Promise<{ readonly port: number; readonly heard: () => string; readonly switchOff: () => void }> {
  let heard = "";
  const open = new Set<Socket>();
  const server = createServer((socket) => {
    open.add(socket);
    socket.on("error", () => undefined);
    socket.on("data", (chunk) => {
      heard += chunk.toString("latin1");
      for (const message of chunk.toString("latin1").split("\n"))
        if (message === "*IDN?") socket.write("Nobody,plain meter,7,1\n");
        else if (message === "SYST:ERR?") socket.write('0,"No error"\n');
        else if (message === "READ?") socket.write("+5.88E+00\n");
    });
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  return {
    port: (server.address() as { port: number }).port,
    heard: () => heard,
    switchOff: () => {
      server.close();
      for (const socket of open) socket.destroy();
    },
  };
}

test("a meter of the network loads the circuit by its own input, and one that is lost leaves nothing that could be recorded", async ({
  page,
}) => {
  const meter = await networkMeter();
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Cab heater is weak", HEATER);
  await page.goto(`/jobs/${id}/bench`);
  const panel = page.getByRole("region", { name: "Instruments" });
  await panel.getByText("On the network, or on a serial line").click();
  await panel.getByLabel("Address").fill("127.0.0.1");
  await panel.getByLabel("Port").fill(String(meter.port));
  await panel.getByRole("button", { name: /Input on volts/ }).click();
  await page.getByRole("option", { name: "1 MΩ", exact: true }).click();
  await panel.getByRole("button", { name: "Connect over the network" }).click();
  await expect(panel.getByText("Nobody plain meter 7")).toBeVisible();
  await page.getByRole("link", { name: "Trace", exact: true }).click();
  const strip = page.getByRole("group", { name: "Connected meter" });
  const [red, reading] = [page.getByLabel("Red lead"), page.getByRole("textbox", { name: "Reading" })];
  await red.fill("HTR.1");
  await red.press("Enter");
  await expect(strip).toContainText("steady");
  await reading.press("Enter");
  await expect
    .poll(async () => (await logged(page, id)).find((e) => e.type === "reading-taken")?.data)
    .toMatchObject({ text: "5.880 V", instrument: "connected", leads: { inputOhms: 1e6 }, meter: { name: "Nobody plain meter 7" } });
  // It is not turned to amps behind somebody's back.
  await page.getByRole("radiogroup", { name: "Meter" }).getByText("A", { exact: true }).click();
  await expect(page.getByText("The meter is not on amps yet")).toBeVisible();
  expect(meter.heard()).not.toContain("CURR");
  await page.getByRole("button", { name: "Leads are off: turn it to amps" }).click();
  await expect.poll(meter.heard).toContain("CURR");
  await page.getByRole("radiogroup", { name: "Meter" }).getByText("V", { exact: true }).click();
  await red.fill("HTR.1");
  await red.press("Enter");
  await expect(strip).toContainText("steady");
  meter.switchOff();
  await expect(page.getByText("The connection to the instrument is lost.", { exact: false })).toBeVisible();
  await expect(strip).toHaveCount(0);
  await reading.press("Enter");
  await expect(page.getByText("Type what the meter shows, such as 12.31, 440 mV or OL.")).toBeVisible();
  expect((await logged(page, id)).filter((e) => e.type === "reading-taken")).toHaveLength(1);
  await page.getByRole("link", { name: "Connect it on the Bench" }).click();
  await panel.getByText("On the network, or on a serial line").click();
  await panel.getByRole("button", { name: "Connect over the network" }).click();
  await expect(panel.getByRole("alert")).toContainText("No instrument answers at 127.0.0.1");
});

test("a scope that is connected records what its probes are on, and the wiggle test watches the meter", async ({ page }) => {
  const id = await withMeter(page);
  const panel = page.getByRole("region", { name: "Instruments" });
  await panel.getByText("Scope", { exact: true }).click();
  await panel.getByRole("button", { name: "Connect the simulated scope" }).click();
  await expect(panel.getByText(/stand-in scope/)).toBeVisible();
  const capture = page.getByRole("region", { name: "Capture" });
  await capture.getByLabel("1 red").fill("LA1.1");
  await capture.getByRole("button", { name: "Another probe" }).click();
  await capture.getByLabel("2 red").fill("LA1.2");
  await capture.getByRole("button", { name: "Capture" }).click();
  const trace = page.getByRole("region", { name: "Trace", exact: true });
  await expect(trace.getByRole("region", { name: /^2 CH2/ })).toBeVisible();
  await expect(trace).toContainText("50,000 samples");
  // What it would show with another ground resistance, beside what it shows.
  const whatIf = trace.getByRole("region", { name: "What it would show" });
  await whatIf.getByRole("button", { name: "Draw it" }).click();
  await expect(whatIf).toContainText("Where?");
  await whatIf.getByRole("textbox").fill("G12");
  await whatIf.getByRole("button", { name: /Supposed/ }).click();
  await page.getByRole("option", { name: "10 Ω too much" }).click();
  await whatIf.getByRole("button", { name: "Draw it" }).click();
  await trace.getByText("Measures of what was supposed").click();
  await expect(trace.getByRole("region", { name: "4 G12 10 Ω too much: LA1.2" })).toContainText(/Mean(9|10|11|12)/);
  await whatIf.getByRole("button", { name: "A good circuit" }).click();
  await expect(trace.getByRole("region", { name: "6 good: LA1.2" })).toBeVisible();
  // What was only supposed is never kept as if it had been recorded.
  await trace.getByRole("button", { name: "Keep with the job" }).click();
  const kept = page.getByRole("region", { name: "Kept traces" });
  await kept
    .getByRole("button", { name: /^Open / })
    .last()
    .click();
  await expect(trace.getByRole("region", { name: /^2 CH2/ })).toBeVisible();
  await expect(trace.getByRole("region", { name: /^3 / })).toHaveCount(0);
  const keptAs = (await logged(page, id)).findLast((e) => e.type === "trace-kept")?.data["channels"] as readonly object[];
  expect(keptAs).toHaveLength(2);
  await page.getByRole("link", { name: "Trace", exact: true }).click();
  const red = page.getByRole("form", { name: "Reading" }).getByLabel("Red lead");
  await red.fill("LA1.2");
  await red.press("Enter");
  await page.getByRole("tab", { name: "Wiggle test" }).click();
  await page.getByRole("button", { name: "Start logging" }).click();
  await page.waitForTimeout(2500);
  const ground = page.getByRole("button", { name: "G12 tailgate frame", exact: true });
  await ground.click();
  await page.waitForTimeout(3500);
  const said = page.getByRole("list", { name: "What moved it" });
  await expect(said).toContainText(/G12.*left the steady range.* to .* V, mean/);
  await page.getByRole("button", { name: "Stop and save" }).click();
  await expect.poll(async () => (await logged(page, id)).find((e) => e.type === "wiggled")?.data["instrument"]).toBe("connected");
});

test("a failed test is repeated by the connected meter", async ({ page }) => {
  const id = await withMeter(page);
  await page.getByRole("link", { name: "Trace", exact: true }).click();
  const red = page.getByLabel("Red lead");
  await red.fill("LA1.2");
  await red.press("Enter");
  await expect(page.getByRole("group", { name: "Connected meter" })).toContainText(/2\.\d+ V.*steady/);
  await page.getByRole("textbox", { name: "Reading" }).press("Enter");
  await expect(red).toHaveValue("");
  const mend = { at: "G12", found: "rust", cause: "", method: "ground cleaned and re-fixed", done: "cleaned" };
  const event = { id: uuid7(), jobId: id, at: new Date().toISOString(), by: "Test", type: "mend-made", data: mend };
  const posted = await page.request.post(`/api/jobs/${id}/events`, { data: { events: [event] } });
  expect(posted.status(), await posted.text()).toBe(201);
  await page.getByRole("link", { name: "Verify", exact: true }).click();
  const before = (await logged(page, id)).filter((e) => e.type === "reading-taken").length;
  await page.getByRole("button", { name: "From the meter" }).first().click();
  await expect.poll(async () => (await logged(page, id)).filter((e) => e.type === "reading-taken").length).toBe(before + 1);
  const last = (await logged(page, id)).findLast((e) => e.type === "reading-taken")!;
  expect(last.data["instrument"]).toBe("connected");
});
