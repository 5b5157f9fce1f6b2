import { expect, test, type Page } from "@playwright/test";
import { REST_STATE } from "../packages/core/src/circuit/index.ts";
import { demoJob, HEATER, openJob, uuid7, workAs } from "./pages.ts";

const state = { ...REST_STATE, on: ["SW3"] };

/** Adds entries to a job as somebody else's device would. */
async function add(page: Page, jobId: string, events: readonly { readonly type: string; readonly data: object }[]): Promise<void> {
  const made = events.map((e) => ({ id: uuid7(), jobId, at: new Date().toISOString(), by: "Rook", ...e }));
  const answer = await page.request.post(`/api/jobs/${jobId}/events`, { data: { events: made } });
  expect(answer.status(), await answer.text()).toBe(201);
}

test("a proven repair goes on the shelf with one tap, stands beside the next reading, and names who used it when it is withdrawn", async ({
  page,
}) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Cab heater is weak", HEATER);
  const across = (text: string, value: number) => ({
    type: "reading-taken",
    data: {
      leads: { quantity: "volts", red: "HTR.2", black: "BAT.-" },
      state,
      load: "HTR",
      text,
      shown: { kind: "value", quantity: "volts", value },
      instrument: "typed",
    },
  });
  await add(page, id, [
    across("2.71 V", 2.71),
    { type: "mend-made", data: { at: "G6", found: "rust", cause: "", method: "ground cleaned and re-fixed", done: "cleaned" } },
    across("9 mV", 0.009),
    // A drop counts where current flows.
    { type: "seen", data: { state, observe: { kind: "part", part: "HTR" }, word: "full", wrong: false } },
  ]);
  await page.goto(`/jobs/${id}/prove`);
  const put = page.getByRole("button", { name: "Put on the shelf of known-goods" }).first();
  await put.click();
  await expect(page.getByText("These readings are on the shelf of known-goods.").first()).toBeVisible();

  // Beside the same place, in the fields and in the list.
  await page.goto(`/jobs/${id}/trace`);
  await page.getByLabel("Red lead").fill("HTR.2");
  await expect(page.getByRole("form", { name: "Reading" })).toContainText(/good ones .*9.*mV.*1 good one/);
  await page.getByRole("tab", { name: /^Readings/ }).click();
  const table = page.getByRole("table", { name: "Readings" });
  await expect(table.getByRole("row").filter({ hasText: "2.71 V" })).toContainText("does not fit");
  await expect(table.getByRole("row").filter({ hasText: "9 mV" }).first()).toContainText("fits");
  await Promise.all([
    page.waitForResponse((r) => r.url().includes(id) && r.request().method() === "POST" && r.ok()),
    table.getByRole("button", { name: /Note the good ones beside HTR.2 against BAT.- 2.71 V/ }).click(),
  ]);

  // The shelf of the vehicle; what is withdrawn names its users and stands beside nothing any more.
  await page.goto("/vehicles");
  await page.getByRole("button", { name: "Known-goods" }).click();
  const row = page.getByRole("row").filter({ hasText: "HTR.2 against BAT.-" }).first();
  await expect(row).toContainText("mV");
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Export for another shop" }).click(),
  ]);
  await row.getByRole("button", { name: /^Withdraw/ }).click();
  const dialog = page.getByRole("dialog", { name: "Withdraw this known-good" });
  await expect(dialog).toContainText("One job was held against it");
  await expect(dialog).toContainText("2.71 V");
  await dialog.getByLabel("Why was it wrong?").fill("another ground was bad too");
  await dialog.getByRole("button", { name: "Withdraw it" }).click();
  await expect(row).toContainText("another ground was bad too");
  // The file knows it as good still: it stays withdrawn here.
  await page.getByLabel("Known-goods of another shop").setInputFiles((await download.path())!);
  await expect(page.getByText(/0 new known-goods, \d+ were here, 0 withdrawn/)).toBeVisible();
  await expect(row).toContainText("another ground was bad too");
  await page
    .getByLabel("Known-goods of another shop")
    .setInputFiles({ name: "x.zip", mimeType: "application/zip", buffer: Buffer.from("x") });
  await expect(page.getByText("not a zip file", { exact: false })).toBeVisible();
  await page.goto(`/jobs/${id}/trace`);
  await page.getByLabel("Red lead").fill("HTR.2");
  await expect(page.getByRole("form", { name: "Reading" })).toContainText("expected");
  await expect(page.getByRole("form", { name: "Reading" })).not.toContainText("good ones");
});

test("a recording of a good vehicle is laid over one of the same place", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await demoJob(page, /no spark at coil 3/);
  await page.goto(`/jobs/${id}/bench`);
  const panel = page.getByRole("region", { name: "Capture" });
  await panel.getByLabel("1 red").fill("BAT.+");
  await panel.getByLabel("1 red").press("Enter");
  const trace = page.getByRole("region", { name: "Trace", exact: true });
  await expect(trace).toBeVisible();
  await trace.getByRole("textbox", { name: "Name" }).fill("ripple");
  await trace.getByRole("button", { name: "Keep with the job" }).click();
  const kept = page.getByRole("region", { name: "Kept traces" });
  await kept.getByRole("button", { name: "Put ripple on the shelf of known-goods" }).click();
  const goods = page.getByRole("region", { name: "Known-goods of these places" });
  await expect(goods).toContainText("BAT.+ against BAT.-");
  await goods.getByRole("button", { name: "Lay the known-good of BAT.+ against BAT.- over" }).click();
  await expect(trace.getByRole("region", { name: "Comparison" })).toBeVisible();
  await expect
    .poll(async () => {
      const { events } = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: { type: string }[] };
      return events.some((e) => e.type === "known-good-used");
    })
    .toBe(true);
});
