import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "@playwright/test";
import { canBits } from "../packages/core/src/test/bus-lines.ts";
import { demoJob, HEATER, openJob, stateChip, workAs } from "./pages.ts";

/** A command of 69 % at 100 Hz, 12 V at the module and 8 V at the fan: 1 s at 20 kS/s. */
function command(): string {
  const lines = ["Time (ms),Module (V),Fan (V)"];
  for (let i = 0; i < 20_000; i++) {
    const high = i % 200 < 138;
    lines.push(`${(i * 0.05).toFixed(2)},${high ? "12.0" : "0.2"},${high ? "8.0" : "0.2"}`);
  }
  return lines.join("\n");
}
const file = (name: string, text: string) => ({ name, mimeType: "text/csv", buffer: Buffer.from(text) });

test("a trace comes in, is measured between cursors by keyboard, is kept, and is there again for anybody", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Cab heater is weak", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await page.getByRole("tab", { name: /^Traces 0/ }).click();
  await page.getByRole("link", { name: "Open the bench" }).click();
  await page.getByLabel("Trace file").setInputFiles(file("fan.csv", command()));
  const trace = page.getByRole("region", { name: "Trace", exact: true });
  const row = (name: RegExp) => trace.getByRole("region", { name });
  await expect(row(/^1 Module/)).toContainText("69.0 %");
  await expect(row(/^1 Module/)).toContainText("100 Hz");
  await expect(row(/^1 Module/)).toContainText("12 V");
  // Same duty, lower amplitude.
  await expect(row(/^2 Fan/)).toContainText("69.0 %");
  await expect(row(/^2 Fan/)).toContainText("8 V");
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => v.id)).toEqual([]);
  const scope = trace.getByRole("application");
  await expect(scope).toHaveAccessibleName(/^Trace from 0 s to 1 s/);
  await scope.focus();
  await page.keyboard.press("+");
  await expect(scope).toHaveAccessibleName(/^Trace from 250 ms/);
  const delta = trace.getByText(/^Δt/);
  const before = await delta.textContent();
  await page.keyboard.press("ArrowRight");
  await expect(delta).not.toHaveText(before!);
  await page.keyboard.press("0");
  await expect(scope).toHaveAccessibleName(/^Trace from 0 s/);
  // From edge to edge by button and key: 1.38 ms high at 100 Hz, then 0.62 ms less of a period.
  await trace.getByRole("button", { name: "Cursor to the next edge" }).click();
  await expect(delta).not.toHaveText(before!);
  await scope.focus();
  const atEdge = await delta.textContent();
  await page.keyboard.press("]");
  await expect(delta).not.toHaveText(atEdge!);
  await page.keyboard.press("[");
  await expect(delta).toHaveText(atEdge!);
  // Turned over, with another zero, without what is fast: shown so, and kept as it was recorded.
  await trace.getByRole("button", { name: "Split" }).click();
  await trace.getByText("Invert, zero, low-pass").click();
  const first = trace.getByRole("group", { name: "How channel 1 is shown" });
  await first.getByRole("button", { name: "Invert" }).click();
  await expect(row(/^1 Module/)).toContainText("Low-12 V");
  await expect(row(/^1 Module/)).toContainText("31.0 %");
  await first.getByRole("button", { name: "Zero between the cursors" }).click();
  await expect(row(/^1 Module/)).toContainText(/Mean(0|-?\d+(\.\d+)? [nµm])/);
  await first.getByRole("button", { name: "Zero as it was" }).click();
  await first.getByRole("button", { name: "Invert" }).click();
  await expect(row(/^1 Module/)).toContainText("High12 V");
  await first.getByRole("button", { name: /Low-pass/ }).click();
  await page.getByRole("option", { name: "below 1 Hz" }).click();
  await expect(row(/^1 Module/)).not.toContainText("High12 V");
  await first.getByRole("button", { name: /Low-pass/ }).click();
  await page.getByRole("option", { name: "no low-pass" }).click();
  await expect(row(/^1 Module/)).toContainText("High12 V");
  await trace.getByRole("button", { name: "Mark", exact: true }).click();
  await trace.getByLabel(/Name of the moment/).fill("it drops");
  await trace.getByLabel(/Name of the moment/).press("Enter");
  const [picture] = await Promise.all([page.waitForEvent("download"), trace.getByRole("button", { name: "What is shown, PNG" }).click()]);
  expect(picture.suggestedFilename()).toBe("fan.png");
  // A probe of ten: every level is ten times as high, and the duty is the same.
  const second = trace.getByRole("group", { name: "Channel 2" });
  await second.getByRole("button", { name: /Probe/ }).click();
  await page.getByRole("option", { name: "× 10", exact: true }).click();
  await expect(row(/^2 Fan/)).toContainText("80 V");
  await second.getByLabel("Red lead").fill("FAN.1");
  await second.getByLabel("Black lead").fill("BAT.-");
  await trace.getByRole("button", { name: "Keep with the job" }).click();
  await expect(page.getByRole("region", { name: "Kept traces" })).toContainText("Fan: FAN.1 against BAT.-");
  await page.reload();
  await page.getByRole("button", { name: "Open fan" }).click();
  await expect(row(/^2 Fan/)).toContainText("80 V");
  await expect(row(/^2 Fan/)).toContainText("69.0 %");
  // One end of the wire beside the other, and a later recording beside an earlier one.
  await page.getByLabel("Trace file").setInputFiles(file("again.csv", command()));
  const comparison = trace.getByRole("region", { name: "Comparison" });
  await expect(comparison).toContainText("High level 4.00 V lower, amplitude 66 %.");
  await page.getByRole("button", { name: "Lay fan over" }).click();
  await expect(trace.getByRole("region", { name: /^3 fan: Module/ })).toContainText("69.0 %");
  await comparison.getByRole("button", { name: /Compare/ }).click();
  await page.getByRole("option", { name: "3 fan: Module" }).click();
  await expect(comparison).toContainText("The same. Difference 0 %");
  // Laid shape on shape nothing changes; what is left of it is drawn, and is nothing.
  await comparison.getByRole("button", { name: /Laid/ }).click();
  await page.getByRole("option", { name: "shape on shape" }).click();
  await expect(comparison).toContainText("The same. Difference 0 % of the swing, laid where they are most alike.");
  await comparison.getByRole("button", { name: "Draw the difference" }).click();
  await expect(trace.getByRole("region", { name: /^5 fan: Module less Module/ })).toContainText("Peak to peak0");
});

test("files that are none, or say too little, come back with what to do, and can be read otherwise", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Radiator fan is slow");
  await page.goto(`/jobs/${id}/bench`);
  const bring = (name: string, text: string) => page.getByLabel("Trace file").setInputFiles(file(name, text));
  const alert = page.getByRole("alert");
  await bring("a.csv", "these are words\n");
  await expect(alert).toContainText("a.csv cannot be read as it is");
  await expect(alert).toContainText("No line of numbers");
  await bring("b.csv", "t (s),U (V)\n0,1\n1,2\n0.5,3\n");
  await expect(alert).toContainText("backwards in line 4");
  await bring("c.wav", "RIFF but no more");
  await expect(alert).toContainText("c.wav cannot be read");
  await bring("d.csv", "CH1\n0\n5\n0\n5\n0\n5\n");
  await expect(alert).toContainText("neither times nor a rate");
  await page.getByLabel("Samples a second").fill("1000");
  await page.getByRole("button", { name: "Read again" }).click();
  await expect(page.getByRole("region", { name: "Trace", exact: true }).getByRole("region", { name: /^1 CH1/ })).toContainText("5");
  await expect(alert).toHaveCount(0);
});

test("the simulated vehicle is recorded at both ends of a wire, judged in words, and what it shows finds the cavity", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await demoJob(page, /no spark at coil 3/);
  await page.goto(`/jobs/${id}/bench`);
  const panel = page.getByRole("region", { name: "Capture" });
  // What is typed wrongly is told, and nothing is recorded.
  await panel.getByRole("button", { name: "Capture" }).click();
  await expect(panel.getByRole("alert")).toContainText("Where is the red lead?");
  // The state of the complaint stands already.
  await expect(stateChip(page, "Engine")).toContainText("idling");
  await panel.getByLabel("1 red").fill("ECM.I3");
  // A second takes a while to work out, and can be stopped.
  await panel.getByRole("button", { name: /Length/ }).click();
  await page.getByRole("option", { name: "1 s", exact: true }).click();
  await panel.getByRole("button", { name: "Capture" }).click();
  await panel.getByRole("button", { name: "Stop" }).click();
  await expect(panel.getByRole("button", { name: "Capture" })).toBeVisible();
  await expect(panel.getByRole("alert")).toHaveCount(0);
  await panel.getByRole("button", { name: "Another probe" }).click();
  await panel.getByLabel("2 red").fill("ic3.1");
  await panel.getByRole("button", { name: /Length/ }).click();
  await page.getByRole("option", { name: "200 ms" }).click();
  await panel.getByLabel("2 red").press("Enter");
  const trace = page.getByRole("region", { name: "Trace", exact: true });
  await expect(trace).toBeVisible();
  // Open between them: the module pulls at nothing, the coil stands at its feed.
  const judged = (red: string) => trace.getByRole("list", { name: `Judgement of ${red}` });
  await expect(judged("IC3.1")).toContainText(/No pulses: it stands at 13|low level of 1[23]/);
  await expect(judged("IC3.1").getByRole("img", { name: "not as it should be" }).first()).toBeVisible();
  const count = trace.getByRole("button", { name: "Count for the suspects" });
  await expect(count).toHaveCount(2);
  await count.first().click();
  await count.click();
  await trace.getByRole("button", { name: "Keep with the job" }).click();
  await expect(page.getByRole("region", { name: "Kept traces" })).toContainText("ECM.I3 against BAT.-");
  await page.goto(`/jobs/${id}/trace`);
  await expect(page.getByRole("list", { name: "Suspects" }).getByRole("listitem").first()).toContainText(/C5|BU\/RD/);
});

/** Both wires of a CAN bus at 100 kbit/s, 1 MS/s: three frames, of which nobody acknowledged the second. */
function bus(): string {
  const frames = [
    { id: 0x123, data: [1, 2, 0xff] },
    { id: 0x2a0, data: [0x10], acknowledged: false },
    { id: 0x18db33f1, data: [2, 1, 0x0c], extended: true },
  ];
  const bits = `${"1".repeat(15)}${frames.map((f) => `${canBits(f)}111`).join("")}${"1".repeat(15)}`;
  const lines = ["Time (us),CANH (V),CANL (V)"];
  for (let i = 0; i < bits.length * 10; i++) lines.push(`${i},${bits[Math.floor(i / 10)] === "0" ? "3.5,1.5" : "2.5,2.5"}`);
  return lines.join("\n");
}

test("a bus is read from its two wires, bad frames by themselves, and each is found in the trace; changes of a logic analyser come in too", async ({
  page,
}) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Dash goes dark");
  await page.goto(`/jobs/${id}/bench`);
  await page.getByLabel("Trace file").setInputFiles(file("can.csv", bus()));
  const panel = page.getByRole("region", { name: "Bus" });
  const rows = panel.getByRole("row");
  await panel.getByRole("button", { name: /Read as/ }).click();
  await page.getByRole("option", { name: "CAN, high and low" }).click();
  await expect(panel).toContainText("3 frames, 1 bad");
  await expect(panel).toContainText("100 kbit/s");
  await expect(rows.filter({ hasText: "0x123" })).toContainText("01 02 FF");
  await expect(rows.filter({ hasText: "0x18DB33F1" })).toContainText("02 01 0C");
  await expect(rows.filter({ hasText: "0x2A0" })).toContainText("nobody acknowledged it");
  await panel.getByText("Bad ones only").click();
  await expect(rows).toHaveCount(2);
  await panel.getByRole("button", { name: /^Show 0x2A0/ }).click();
  const scope = page.getByRole("application");
  await expect(scope).not.toHaveAccessibleName(/^Trace from 0 s/);

  const vcd =
    "$timescale 1 us $end\n$scope module top $end\n$var wire 1 ! RX $end\n$upscope $end\n$enddefinitions $end\n#0\n1!\n#100\n0!\n#200\n1!\n#900\n";
  await page.getByLabel("Trace file").setInputFiles(file("logic.vcd", vcd));
  await expect(page.getByRole("region", { name: /^1 RX/ })).toContainText("Edges");
  // A command beside what another line shows meanwhile, as duty and rate.
  await page.getByLabel("Trace file").setInputFiles(file("fan.csv", command()));
  await panel.getByRole("button", { name: /Read as/ }).click();
  await page.getByRole("option", { name: "pulses: duty and rate" }).click();
  await expect(panel).toContainText("1 stretch, 0 without pulses");
  await expect(rows.filter({ hasText: "69.0 %" })).toContainText(/100 Hz, 98 pulses.*other line 69\.0 %, 100 Hz/);
  await page.getByLabel("Trace file").setInputFiles(file("broken.vcd", "$timescale 1 us $end"));
  await expect(page.getByRole("alert")).toContainText("its definitions do not end");
});
