import { readFile } from "node:fs/promises";
import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "@playwright/test";
import { HEATER, openJob, uuid7, workAs } from "./pages.ts";

test("a practice job hides what is wrong until it is closed, and then tells step by step what was done", async ({ page }) => {
  await workAs(page, "Runa Skjold");
  await page.goto("/");
  const { jobId } = (await (
    await page.request.post("/api/practice", { data: { by: "Runa Skjold", vehicle: { from: "bench", id: "rig-lamps" }, family: "open" } })
  ).json()) as { jobId: string };
  await page.goto(`/jobs/${jobId}/debrief`);
  await expect(page.getByText(/What is wrong stays hidden while the job is open/)).toBeVisible();
  // Two readings by the simulated meter, then it is given up.
  await page.goto(`/jobs/${jobId}/trace`);
  const readings = async (): Promise<number> => {
    const log = (await (await page.request.get(`/api/jobs/${jobId}`)).json()) as { events: { type: string }[] };
    return log.events.filter((e) => e.type === "reading-taken").length;
  };
  for (const [i, red] of ["BAT.+", "F1.2"].entries()) {
    await page.getByRole("textbox", { name: "Red lead" }).fill(red);
    await page.getByRole("button", { name: "Simulate" }).click();
    await expect(page.getByRole("textbox", { name: "Red lead" })).toHaveValue("");
    await expect.poll(readings).toBe(i + 1);
  }
  const event = (type: string, data: object) => ({ id: uuid7(), jobId, at: new Date().toISOString(), by: "Runa Skjold", type, data });
  const mend = { at: "W1", found: "nothing", cause: "", method: "wire joined", done: "joined" };
  const closed = { safeToDrive: "no", advice: "", withoutProof: "given up" };
  const posted = await page.request.post(`/api/jobs/${jobId}/events`, {
    data: { events: [event("mend-made", mend), event("job-closed", closed)] },
  });
  expect(posted.status(), await posted.text()).toBe(201);
  await page.goto(`/jobs/${jobId}/record`);
  await page.getByRole("link", { name: "Debrief" }).click();
  const result = page.getByRole("region", { name: "Result" });
  await expect(result).toContainText(/Not found: |Found: /);
  await expect(result).toContainText("W1 repaired after");
  await expect(page.getByRole("table", { name: "Each test beside what it could tell" }).getByRole("row")).toHaveCount(3);
  await expect(page.getByRole("region", { name: "What to practise" }).getByRole("listitem").first()).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => v.id)).toEqual([]);
});

test("a fault is practised without advice, then with advice on request; the debrief scores it, and the next one follows", async ({
  page,
}) => {
  await workAs(page, "Eilif Storr");
  await page.goto("/practice?vehicle=bench+rig-lamps&family=high+resistance&advice=asked");
  await page.getByRole("button", { name: "Start", exact: true }).click();
  const bar = page.getByRole("complementary", { name: "Practice job" });
  await expect(bar).toContainText("told by the");
  await page.getByRole("link", { name: "Start tracing" }).click();
  // The tool keeps quiet until it is asked, and again after the next finding.
  const next = page.getByRole("region", { name: "Next test" });
  await expect(next).toContainText("Where do the leads go next?");
  await expect(page.getByRole("list", { name: "Suspects" })).toHaveCount(0);
  await page.getByRole("button", { name: /^Look what L\d does/ }).click();
  await expect(page.getByRole("tab", { name: /^Log [5-8]$/ })).toBeVisible();
  await page.getByRole("button", { name: "Ask for advice" }).click();
  await expect(page.getByRole("list", { name: "Suspects" }).getByRole("listitem").first()).toBeVisible();
  await expect(bar).toContainText("advice asked for 1 ×");
  await page.getByRole("textbox", { name: "Red lead" }).fill("F1.2");
  await page.getByRole("button", { name: "Let the simulated vehicle answer" }).click();
  await expect(next).toContainText("Where do the leads go next?");
  await expect(bar).toContainText(/\d+ min of tests/);
  // Whoever teaches sees who is at what, and says something.
  const other = await page.context().newPage();
  await workAs(other, "Runa Skjold");
  await other.goto("/practice?view=class");
  await other.getByRole("button", { name: "Hint for Eilif Storr" }).first().click();
  await other.getByRole("textbox", { name: "Hint" }).fill("Where does the current come back?");
  await other.getByRole("button", { name: "Send" }).click();
  await expect(bar).toContainText("Hint: Where does the current come back?");
  await other.getByRole("button", { name: "Stop the clock of Eilif Storr" }).click();
  await expect(bar).toContainText("Clock stopped");
  await other.getByRole("button", { name: "Start the clock of Eilif Storr" }).click();
  await expect(bar).not.toContainText("Clock stopped");
  // And what counts here.
  const points = other.getByRole("region", { name: "Points" });
  await points.getByText("What counts in a score, and how much.").click();
  await points.getByLabel("Verified").fill("25");
  await expect(points).toContainText("120 in all");
  await points.getByRole("button", { name: "Save points" }).click();
  await expect(other.getByText(/^Saved\. Debriefs score/)).toBeVisible();
  await page.getByRole("button", { name: /Give up/ }).click();
  const score = page.getByRole("region", { name: "Score" });
  await expect(score).toContainText(/Score \d+ of 100/);
  await expect(score.getByRole("row", { name: /Advice and hints/ })).toContainText("−4");
  await expect(score).toContainText("World: high resistance, seed");
  await expect(score.getByRole("row", { name: /^Verified/ })).toContainText("of 20.8");
  await other.reload();
  await expect(other.getByRole("table", { name: "Results of practice jobs" }).getByRole("row").nth(1)).toContainText("Eilif Storr");
  // Once more from the second test: the first one stands in it, and it is no result.
  const debriefed = page.url();
  await page.getByRole("button", { name: /Try this one again from/ }).click();
  await page.getByRole("option", { name: "after test 1" }).click();
  await page.getByRole("button", { name: "Try again", exact: true }).click();
  await expect(page).toHaveURL(/complaint/);
  await page.getByRole("link", { name: "Trace" }).click();
  await expect(page.getByRole("tab", { name: "Readings 0" })).toBeVisible();
  await expect(page.getByRole("tab", { name: /^Log [5-8]$/ }), "the look stands in it").toBeVisible();
  await page.getByRole("button", { name: /Give up/ }).click();
  await expect(score).toContainText(/Score \d+ of 100/);
  await other.reload();
  await expect(other.getByRole("table", { name: "Results of practice jobs" }).getByRole("row", { name: /Eilif Storr/ })).toHaveCount(1);
  const saved = other.waitForEvent("download");
  await other.getByRole("link", { name: "Save as CSV" }).click();
  expect(await readFile(await (await saved).path(), "utf8")).toMatch(/^closed,by,.*\r\n.*Eilif Storr,rig-lamps,high resistance/);
  await page.goto(debriefed);
  await page.getByRole("button", { name: "More like this one" }).click();
  await expect(page).toHaveURL(/complaint/);
  // What if on the job itself: nothing of it goes into the log.
  await page.goto(page.url().replace("complaint", "what-if"));
  await expect(page.getByRole("combobox", { name: "Where is something wrong?" })).toBeVisible();
  await page.goto("/practice");
  await expect(page.getByRole("table", { name: "Skills" })).toContainText("Measure with current flowing");
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => v.id)).toEqual([]);
});

test("a fault is supposed on a vehicle by pointing, and becomes a practice job for somebody", async ({ page }) => {
  await workAs(page, "Runa Skjold");
  await page.goto("/vehicles/gritter/what-if");
  await page.getByRole("combobox", { name: "Where is something wrong?" }).fill("G8");
  await page.getByRole("option", { name: /^G8/ }).click();
  await page.getByRole("button", { name: /What happens to it/ }).click();
  await page.getByRole("option", { name: /loose or corroded/ }).click();
  await page.getByRole("button", { name: /^SW3 light switch, side +off/ }).click();
  const differs = page.getByRole("region", { name: "What is otherwise than on a good vehicle" });
  await expect(differs.getByRole("table", { name: "Voltages against battery negative" })).toContainText("S7");
  // A little resistance is noticed by nobody; more of it is.
  const make = page.getByRole("region", { name: "Make a practice job of it" });
  await expect(make).toContainText("Nobody would notice it in this state");
  await page.getByRole("slider", { name: "How bad" }).focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press("ArrowRight");
  await expect(differs).toContainText(/tail light, (left|right): /);
  await make.getByRole("textbox", { name: "For whom" }).fill("Eilif Storr");
  await make.getByRole("textbox", { name: "Until" }).fill("2026-12-24");
  await make.getByRole("button", { name: /Fault present/ }).click();
  await page.getByRole("option", { name: /^sometimes/ }).click();
  for (const tool of ["meter", "fused lead", "test lamp", "scan tool"]) await make.getByRole("button", { name: tool, exact: true }).click();
  await make.getByRole("button", { name: "test lamp", exact: true }).click();
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => v.id)).toEqual([]);
  await make.getByRole("button", { name: "Make the job" }).click();
  await expect(page.getByLabel("In the customer’s words")).toHaveValue(/tail light/i);
  await expect(page.getByRole("complementary", { name: "Practice job" })).toContainText("without meter, fused lead, scan tool");
  // The meter is refused; what comes and goes is asked for with every finding.
  await page.getByRole("link", { name: "Trace" }).click();
  await page.getByRole("textbox", { name: "Black lead" }).fill("BAT.-");
  await page.getByRole("textbox", { name: "Red lead" }).fill("BAT.+");
  await page.getByRole("button", { name: "Let the simulated vehicle answer" }).click();
  await expect(page.getByRole("form", { name: "Reading" })).toContainText(/no meter/);
  await expect(page.getByText("Fault now")).toBeVisible();
  await page.goto("/practice?view=class");
  await expect(
    page.getByRole("table", { name: "Open practice jobs" }).getByRole("row", { name: /Eilif Storr until 2026-12-24/ }),
  ).toBeVisible();
});

test("a fault that the shop had is practised from its report, without its customer and with the minutes hidden", async ({ page }) => {
  await workAs(page, "Eilif Storr");
  const jobId = await openJob(page, "The cab heater is dead", HEATER);
  const at = (n: number): string => new Date(Date.now() + n).toISOString();
  const event = (n: number, type: string, data: object) => ({ id: uuid7(), jobId, at: at(n), by: "Eilif Storr", type, data });
  const on = { key: "off", engine: "stopped", on: ["SW3"], temperatureC: 20, opened: [], bridged: [] };
  const events = [
    event(1, "seen", { state: on, observe: { kind: "part", part: "HTR" }, word: "none", wrong: true }),
    event(2, "mend-made", { at: "C5.2", found: "green", cause: "water", method: "contact cleaned", done: "cleaned" }),
    event(3, "job-closed", { safeToDrive: "yes", advice: "", withoutProof: "customer waits" }),
  ];
  expect((await page.request.post(`/api/jobs/${jobId}/events`, { data: { events } })).status()).toBe(201);
  await page.goto(`/jobs/${jobId}/record`);
  await page.getByRole("link", { name: "Practise this fault" }).click();
  await page.getByRole("button", { name: "Show minutes" }).click();
  await page.getByRole("button", { name: "Practise it" }).click();
  await expect(page.getByLabel("In the customer’s words")).toHaveValue(/cab heater/i);
  await expect(page.getByRole("complementary", { name: "Practice job" })).not.toContainText("min of tests");
  await expect(page.getByText("B 1", { exact: true })).toHaveCount(0);
});

test("a question of a minute is answered, and the circuit says why", async ({ page }) => {
  await workAs(page, "Eilif Storr");
  await page.goto("/practice?view=drill");
  const drill = page.getByRole("region", { name: "Drill" });
  const choices = drill.getByRole("listitem");
  await expect(choices).toHaveCount(4);
  await choices.first().getByRole("button").click();
  await expect(drill.getByLabel("Right")).toHaveCount(1);
  await expect(drill.getByLabel("Wrong")).toHaveCount(3);
  await expect(drill.getByRole("status").filter({ hasText: /[01] of 1 right/ })).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => v.id)).toEqual([]);
  await drill.getByRole("button", { name: "Next question" }).click();
  await expect(drill.getByLabel("Right")).toHaveCount(0);
  await expect(choices).toHaveCount(4);
});

test("a diagram that is wrong in one place is told from its colour, and by the debrief", async ({ page }) => {
  await workAs(page, "Eilif Storr");
  await page.goto("/practice?vehicle=bench%20rig-screen&level=medium");
  const row = page.getByRole("row", { name: /The diagram may be wrong in one place/ }).first();
  await row.getByRole("button", { name: /^Start/ }).click();
  await expect(page).toHaveURL(/complaint/);
  await page.getByRole("link", { name: "Trace" }).click();
  await page.getByRole("textbox", { name: "Black lead" }).fill("BAT.-");
  await page.getByRole("textbox", { name: "Red lead" }).fill("C1.1a");
  await page.getByRole("button", { name: "Let the simulated vehicle answer" }).click();
  const colours = page.getByLabel("Wire colours");
  await expect(colours).toContainText(/C1\.1a drawn [A-Z]{2}/);
  await colours.getByRole("button", { name: "Compare colour" }).click();
  // One look of ten misses another colour.
  await expect(colours).toContainText(/as drawn|another colour on the vehicle/);
  await page.getByRole("tab", { name: /^Log/ }).click();
  await expect(page.getByText(/wire colour as drawn, at C1\.1a: (as it should be|otherwise)/)).toBeVisible();
  await page.getByRole("button", { name: /Give up/ }).click();
  await expect(page.getByText(/The diagram was wrong at/)).toBeVisible();
});
