import { expect, test, type Locator, type Page } from "@playwright/test";
import { lastOf, openJob, uuid7, workAs } from "./pages.ts";

/** A job of somebody's, planned. Returns its plate, which no other job has. */
async function planned(page: Page, words: string, plan: object): Promise<string> {
  const id = await openJob(page, words);
  const event = {
    id: uuid7(),
    jobId: id,
    at: new Date().toISOString(),
    by: "Test",
    type: "planned",
    data: { waits: "", until: "", ...plan },
  };
  expect((await page.request.post(`/api/jobs/${id}/events`, { data: { events: [event] } })).status()).toBe(201);
  return id;
}
const lane = (page: Page, person: string) => page.getByRole("region", { name: person, exact: true });

test("a job goes from one to another by keyboard, is promised by its plan, and is told when it is due", async ({ page }) => {
  await workAs(page, "Una Skarne");
  const words = `Left mirror stays cold ${Date.now()}`;
  const id = await planned(page, words, { whose: "Bram Oake", hours: 2.5 });
  await planned(page, "Seat heater on one side", { whose: "Cora Lund", hours: 9 });
  await page.goto("/planner");
  await expect(lane(page, "Bram Oake")).toContainText(words);
  await expect(lane(page, "Bram Oake")).toContainText("2.5 h of 8 h");
  await expect(lane(page, "Cora Lund")).toContainText("1 h more than a day holds");

  // Enter on the grip, Tab from lane to lane, Enter to drop.
  await lane(page, "Bram Oake").getByRole("button", { name: /^Move/ }).focus();
  await page.keyboard.press("Enter");
  for (let i = 0; i < 40; i++) {
    const at = await page.evaluate(() => document.activeElement?.closest("section")?.getAttribute("aria-label") ?? "");
    if (at === "Cora Lund") break;
    await page.keyboard.press("Tab");
  }
  await page.keyboard.press("Enter");
  await expect(lane(page, "Cora Lund")).toContainText(words);
  await expect(lane(page, "Cora Lund")).toContainText("11.5 h of 8 h");

  // A promise that has passed is late, and due on the board.
  await lane(page, "Cora Lund").getByRole("row").filter({ hasText: words }).getByRole("button", { name: /^Plan/ }).click();
  const sheet = page.getByRole("dialog");
  await expect(sheet.getByLabel("Hours of work in all")).toHaveValue("2.5");
  await sheet.getByLabel("Promised for").fill("2026-01-05T16:00");
  await sheet.getByRole("button", { name: "Save" }).click();
  await expect(lane(page, "Cora Lund")).toContainText("promised Mon 5 Jan, 16:00: late");
  // What was promised comes first.
  await expect(lane(page, "Cora Lund").getByRole("row").first()).toContainText(words);
  await page.goto("/");
  await expect(page.getByRole("status").filter({ hasText: /due/ })).toContainText("promised, Mon 5 Jan, 16:00");

  // What waits leaves the lane.
  await page.goto("/planner");
  await lane(page, "Cora Lund").getByRole("row").filter({ hasText: words }).getByRole("button", { name: /^Plan/ }).click();
  await sheet.getByRole("button", { name: "cold engine" }).click();
  await sheet.getByLabel("Until").fill("2099-01-05");
  await sheet.getByLabel("At").fill("07:30");
  await sheet.getByRole("button", { name: "Save" }).click();
  await expect(lane(page, "Waiting")).toContainText("cold engine until Mon 5 Jan, 07:30");
  const log = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: { type: string; data: unknown }[] };
  expect(log.events.findLast((e) => e.type === "planned")?.data).toMatchObject({
    whose: "Cora Lund",
    until: "2099-01-05T07:30",
    hours: 2.5,
  });
});

test("a job is drawn to another's lane with the mouse", async ({ page }) => {
  await workAs(page, "Una Skarne");
  const words = `Washer runs on ${Date.now()}`;
  const id = await planned(page, words, { whose: "Dag Ferro", hours: 1 });
  await planned(page, "Tail lights flicker", { whose: "Eve Nord", hours: 2 });
  // Both lanes in sight, however many there are.
  await page.setViewportSize({ width: 1280, height: 4000 });
  await page.goto("/planner");
  const row = lane(page, "Dag Ferro").getByRole("row").filter({ hasText: words });
  // As a hand does it: down, over in steps, a moment above the other lane, up.
  const middle = async (at: Locator): Promise<readonly [number, number]> => {
    const box = (await at.boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2];
  };
  await row.scrollIntoViewIfNeeded();
  await page.mouse.move(...(await middle(row)));
  await page.mouse.down();
  const target = await middle(lane(page, "Eve Nord").getByRole("row").first());
  await page.mouse.move(...target, { steps: 12 });
  await page.waitForTimeout(300);
  await page.mouse.move(target[0] + 4, target[1] + 2, { steps: 3 });
  await page.mouse.up();
  await expect(lane(page, "Eve Nord")).toContainText(words);
  await expect.poll(async () => (await lastOf<{ whose: string }>(page, id, "planned")).whose).toBe("Eve Nord");
});
