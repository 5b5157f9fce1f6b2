import { expect, test, type Page } from "@playwright/test";
import { lastOf, openJob, uuid7, workAs } from "./pages.ts";

/** A closed job of years ago. Returns its id. */
async function closedIn(page: Page, year: number): Promise<string> {
  const jobId = uuid7();
  const event = (type: string, data: object) => ({ id: uuid7(), jobId, at: `${year}-03-04T10:00:00.000Z`, by: "Bram Oake", type, data });
  const complaint = { vehicle: "Bench van", registration: "OL 77 D", mileage: "", words: "OL 77 D has no horn" };
  const opened = event("job-opened", { ...complaint, conditions: "", triedBefore: "", highVoltage: false });
  expect((await page.request.post("/api/jobs", { data: opened })).status()).toBe(201);
  const events = [event("job-closed", { safeToDrive: "yes", advice: "", withoutProof: "blows" })];
  expect((await page.request.post(`/api/jobs/${jobId}/events`, { data: { events } })).status()).toBe(201);
  return jobId;
}

test("customers are taken out of old jobs after being asked, and each job says so", async ({ page }) => {
  await workAs(page, "Una Skarne");
  const id = await closedIn(page, 2019);
  await page.goto("/shop");
  const old = page.getByRole("region", { name: "Customers of old jobs" });
  await expect(old).toContainText("1 job, 0 pictures");
  await old.getByRole("button", { name: /^Take customers out/ }).click();
  const sheet = page.getByRole("dialog");
  await sheet.getByRole("button", { name: "Cancel" }).click();
  await expect(old).toContainText("1 job, 0 pictures");
  await old.getByRole("button", { name: /^Take customers out/ }).click();
  await sheet.getByRole("button", { name: "Take out of 1 job" }).click();
  await expect(old.getByRole("status")).toContainText("Taken out of 1 job: 1 entry changed");
  await expect(old).toContainText("No job is that old.");
  const log = await (await page.request.get(`/api/jobs/${id}`)).text();
  expect(log).not.toContain("OL 77 D");
  expect(log).toContain("customer-removed");
  await page.goto(`/jobs/${id}/record`);
  await expect(page.getByText("has no horn").first()).toBeVisible();
});

test("a return that was promised to be watched is asked after on a closed job, and then leaves what is due", async ({ page }) => {
  await workAs(page, "Una Skarne");
  const id = await openJob(page, "Horn is hoarse");
  const event = (type: string, data: object) => ({ id: uuid7(), jobId: id, at: new Date().toISOString(), by: "Test", type, data });
  const events = [
    event("return-watched", { until: "2026-01-15", distance: "", what: "is the horn loud" }),
    event("job-closed", { safeToDrive: "yes", advice: "", withoutProof: "sounds" }),
  ];
  const answer = await page.request.post(`/api/jobs/${id}/events`, { data: { events } });
  expect(answer.status(), await answer.text()).toBe(201);
  await page.goto("/");
  const due = page.getByRole("status").filter({ hasText: /due/ });
  const asked = "ask whether it came back, Thu 15 Jan";
  await expect(due).toContainText(asked);
  await page.goto(`/jobs/${id}/prove`);
  await page.getByRole("region", { name: "Watch for its return" }).getByRole("button", { name: "Asked" }).click();
  await expect.poll(async () => JSON.stringify(await lastOf(page, id, "return-watched"))).not.toContain("2026-01-15");
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "Board" })).toBeVisible();
  await expect(page.getByText(asked)).toHaveCount(0);
});
