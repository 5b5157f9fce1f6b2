import { expect, test, type APIRequestContext } from "@playwright/test";
import { uuid7, workAs } from "./pages.ts";

interface Logged {
  readonly type: string;
  readonly data: object;
}

/** A closed job with the vehicle of another, whose trouble ended at a cavity. */
async function closedLike(request: APIRequestContext, logged: readonly Logged[], words: string): Promise<void> {
  const jobId = uuid7();
  const event = ({ type, data }: Logged) => ({ id: uuid7(), jobId, at: new Date().toISOString(), by: "Bram Oake", type, data });
  const of = (type: string): Logged => logged.find((e) => e.type === type)!;
  const opened = { type: "job-opened", data: { ...of("job-opened").data, words } };
  expect((await request.post("/api/jobs", { data: event(opened) })).status()).toBe(201);
  const mend = { at: "C30.2", found: "pin pushed back", cause: "door slammed", method: "terminal renewed", done: "pin seated and held" };
  const events = [
    of("circuit-set"),
    ...logged.filter((e) => e.type === "seen"),
    { type: "mend-made", data: mend },
    { type: "job-closed", data: { safeToDrive: "yes", advice: "", withoutProof: "lamp lights" } },
  ].map(event);
  const answer = await request.post(`/api/jobs/${jobId}/events`, { data: { events } });
  expect(answer.status(), await answer.text()).toBe(201);
}

test("closed jobs like this one are told with what they have in common, count for their place, and can be left out", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  await page.goto("/jobs/new");
  await page.getByRole("combobox", { name: "Vehicle" }).pressSequentially("plover");
  await page.getByRole("option", { name: "Selwick Plover 2.0 D", exact: true }).click();
  await page.getByLabel("In the customer’s words").fill("Since the hailstorm the stop light on the left is dead.");
  await page.getByRole("button", { name: "Open the job" }).click();
  await page.getByRole("button", { name: "L13 stop light, left: dead" }).click();
  const ranking = page.getByRole("region", { name: "First suspects" }).getByRole("list", { name: "Ranking" });
  await expect(ranking).toContainText("L13 (stop light, left) burnt out");

  const id = page.url().match(/jobs\/([0-9a-f-]{36})/)![1]!;
  const log = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: Logged[] };
  for (const n of ["first", "second", "third"])
    await closedLike(page.request, log.events, `Stop light on the left dead after a hailstorm, ${n} one`);
  await page.reload();

  const similar = page.getByRole("region", { name: "Similar closed jobs" });
  await expect(similar).toContainText("3 similar closed jobs");
  await expect(similar).toContainText("ended at C30.2, which count as likelier");
  const one = similar.getByRole("listitem").first();
  await expect(one).toContainText("pin pushed back");
  await expect(one).toContainText("In common: part L13; same type of vehicle; words: hailstorm");

  // They stand beside the suspects, which say what they owe to them.
  await page.goto(`/jobs/${id}/trace`);
  const suspects = page.getByRole("list", { name: "Suspects" });
  await suspects.locator("details", { hasText: "ended here" }).first().locator("summary").click();
  await expect(page.getByText(/3 similar closed jobs ended here: 4 times as likely from the start/).first()).toBeVisible();

  await page.goto(`/jobs/${id}/complaint`);
  await similar.getByText("Count them for the suspects").click();
  await expect(similar).toContainText("do not count for the suspects");
  await page.goto(`/jobs/${id}/trace`);
  await expect(suspects).toContainText("L13");
  await expect(page.getByText(/similar closed jobs ended here/)).toHaveCount(0);
});
