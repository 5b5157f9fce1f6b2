import { expect, test } from "@playwright/test";
import { closeJob, followCard, Hands, repair, repeatReadings } from "./by-the-card.ts";
import { readFileSync } from "node:fs";
import { demoJob, lastOf, openJob, stateChip, uuid7, workAs } from "./pages.ts";

test("same duty, lower amplitude: captured at both ends, told in ohms, beside the suspects' ghosts, and carried to the proof", async ({
  page,
}) => {
  await workAs(page, "Morag Quill");
  const id = await demoJob(page, /never gets over 13\.4 V/);
  await page.goto(`/jobs/${id}/bench?red=ALT.C`);
  const panel = page.getByRole("region", { name: "Capture" });
  await expect(panel.getByLabel("1 red")).toHaveValue("ALT.C");
  await expect(stateChip(page, "Engine")).toContainText("idling");
  // The module's pin is offered as the other end of the wire.
  await panel.getByRole("button", { name: "ECM.8, other end" }).click();
  await expect(panel.getByLabel("2 red")).toHaveValue("ECM.8");
  await panel.getByRole("button", { name: "Capture" }).click();
  const trace = page.getByRole("region", { name: "Trace", exact: true });
  const judged = (red: string) => trace.getByRole("list", { name: `Judgement of ${red}` });
  await expect(judged("ALT.C")).toContainText(/Amplitude 1\.\d+\sV of 1[34]\.\d+\sV/);
  await expect(judged("ALT.C")).toContainText("High for 60 % of the time, as commanded.");
  await expect(judged("ALT.C")).toContainText(/About (29|30|31|32)\skΩ in series would do this: in .*C3\.1/);
  await expect(judged("ECM.8")).toContainText("High for 60 % of the time, as commanded.");
  await expect(judged("ECM.8")).not.toContainText("in series");
  await expect(trace.getByRole("region", { name: "Comparison" })).toContainText(
    /High level 1\d\.\d+\sV higher, amplitude [78]\.\d times as large/,
  );
  // Both count for the suspects; then what each of those would show is laid beside what was recorded.
  const count = trace.getByRole("button", { name: "Count for the suspects" });
  await count.first().click();
  await count.click();
  await trace.getByRole("button", { name: "The leading suspects" }).click();
  await expect(trace.getByRole("button", { name: /C3\.1.*about 30\skΩ.*ALT\.C/ })).toBeVisible({ timeout: 120_000 });
  await trace.getByLabel("Name", { exact: true }).fill("command at both ends");
  await trace.getByRole("button", { name: "Keep with the job" }).click();
  const kept = await lastOf<{ channels: readonly { red: string }[] }>(page, id, "trace-kept");
  expect(kept.channels.map((c) => c.red)).toEqual(["ALT.C", "ECM.8"]);
  // What is left lies between the two ends; a reading or two tells the cavity from its wires.
  await page.getByRole("link", { name: "Trace", exact: true }).click();
  await expect(page.getByRole("region", { name: "Suspects" })).toContainText(/C3\.1|W33|W34/);
  const hands = new Hands();
  await followCard(page, hands, [{ kind: "series", link: "C3.1", ohms: 30_000 }]);
  await expect(page.getByRole("region", { name: "Next test" })).toContainText("C3.1");
  await repair(page, hands, "");
  // The same captures again, now for the proof.
  await page.getByRole("link", { name: "Capture on the Bench" }).first().click();
  await panel.getByRole("button", { name: /other end/ }).click();
  await expect(stateChip(page, "Engine")).toContainText("idling");
  await panel.getByRole("button", { name: "Capture" }).click();
  await expect(judged("ALT.C")).toContainText(/Levels .* as in a good circuit/);
  await expect(judged("ECM.8")).toContainText(/Levels .* as in a good circuit/);
  const again = trace.getByRole("button", { name: "Count as the test repeated" });
  await again.first().click();
  await again.click();
  await page.getByRole("link", { name: "Verify", exact: true }).click();
  await repeatReadings(page, hands, []);
  const works = page.getByRole("region", { name: "Does it work now" }).getByRole("button", { name: "Works" });
  for (let i = 0; i < (await works.count()); i++) await works.nth(i).click();
  await closeJob(page, hands);
});

test("a joint that breaks while its plug is moved is caught by the scope, and kept as a wiggle test", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await demoJob(page, /full left lock/);
  await page.goto(`/jobs/${id}/bench?red=L3.1`);
  const panel = page.getByRole("region", { name: "Capture" });
  await panel.getByLabel("Moved from a third on").fill("C16");
  await panel.getByRole("button", { name: /Length/ }).click();
  await page.getByRole("option", { name: "1 s", exact: true }).click();
  await panel.getByRole("button", { name: "Capture" }).click();
  const moved = page.getByRole("region", { name: "Moved" });
  await expect(moved).toContainText(/C16: left the steady range \d+ times, by up to -\d/);
  await moved.getByRole("button", { name: "Keep as a wiggle test" }).click();
  const kept = await lastOf<{ marks: readonly (readonly [number, string])[] }>(page, id, "wiggled");
  expect(kept.marks).toEqual([
    [0, ""],
    [333, "C16"],
  ]);
});

test("a level that the ranking asks for is captured on the Bench with the leads put there", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const notation = readFileSync(new URL("../packages/core/src/test/proving/pump-command.circuit", import.meta.url), "utf8");
  const jobId = await openJob(page, "The pump is weak", notation);
  const state = { key: "run", engine: "idling", on: [], opened: [], bridged: [], temperatureC: 20 };
  const data = { state, observe: { kind: "part", part: "PMP" }, word: "weak", wrong: true };
  const seen = { id: uuid7(), jobId, at: new Date().toISOString(), by: "Test", type: "seen", data };
  expect((await page.request.post(`/api/jobs/${jobId}/events`, { data: { events: [seen] } })).status()).toBe(201);
  await page.goto(`/jobs/${jobId}/trace`);
  const card = page.getByRole("region", { name: "Next test" });
  const capture = card.getByRole("link", { name: /apture on the Bench/ });
  await expect(page.getByRole("region", { name: "Suspects" })).toHaveAttribute("aria-busy", "false");
  for (let i = 0; i < 10 && (await capture.count()) === 0; i++) {
    await card.getByRole("button", { name: /Another test/ }).click();
  }
  await expect(card).toContainText(/Next: scope, (high|low) level/);
  const [red, black] = await card.locator("dd:nth-of-type(odd)").allTextContents();
  await capture.click();
  await expect(page.getByRole("heading", { name: "Bench" })).toBeVisible();
  expect(new URL(page.url()).searchParams.get("red")).toBe(red);
  expect(new URL(page.url()).searchParams.get("black")).toBe(black);
});
