import { expect, test, type Page } from "@playwright/test";
import { demoJob, redLead, workAs } from "./pages.ts";

/** Opens a job for the van by typing its name and these words, as far as its symptoms. */
async function openVan(page: Page, words: string): Promise<void> {
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "Board" })).toBeVisible();
  await page.keyboard.press("c");
  await expect(page.getByRole("combobox", { name: "Vehicle" })).toBeFocused();
  await page.keyboard.type("plover");
  await expect(page.getByRole("option")).toHaveText("Selwick Plover 2.0 D");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await page.getByLabel("In the customer’s words").fill(words);
  await page.getByRole("button", { name: "Open the job" }).click();
  await expect(page.getByRole("region", { name: "Symptoms" })).toBeVisible();
}

test("from a spoken complaint on the van to the first proposal in six interactions", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  // One: new job. Two: the vehicle. Three: the words. Four: open it.
  await openVan(page, "The stop light on the left is dead.");
  // Five: the symptom, offered from the words; it stands with a state in which a good one lights.
  await page.getByRole("button", { name: "L13 stop light, left: dead" }).click();
  const line = page.getByRole("list", { name: "Symptom lines" }).getByRole("listitem");
  await expect(line).toContainText("SW13 on");
  const first = page.getByRole("region", { name: "First suspects" });
  await expect(first.getByRole("list", { name: "Ranking" })).toContainText("L13 (stop light, left) burnt out");
  await expect(first.getByText("First test:")).toBeVisible();
  // Six: on to tracing, with load, state and question set.
  await first.getByRole("link", { name: "Start tracing" }).click();
  await expect(page.getByRole("button", { name: /SW13 brake pedal on/ })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByRole("region", { name: "Staircase" })).toContainText("L13");
  await expect(page.getByRole("region", { name: "Next test" })).toContainText(/Next/);
  // It stands in the log as what the customer said, and outlives a reload.
  await page.reload();
  await expect(page.getByRole("list", { name: "Suspects" })).toContainText("L13");
});

test("a log that was asked for before the wiring was stored, and comes after, does not lose it", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  // Nobody tells this device that the log has grown.
  await page.routeWebSocket(/\/api\/feed/, (socket) => void socket.close());
  await page.route(/\/api\/jobs\/[0-9a-f-]{36}$/, async (route) => {
    const asked = await route.fetch();
    await page.waitForTimeout(3000);
    await route.fulfill({ response: asked });
  });
  // Nor does it get to ask.
  await page.route(/\/api\/jobs\/[0-9a-f-]{36}\?after=/, (route) => route.abort());
  await page.route("**/api/jobs/*/events", async (route) => {
    await page.waitForTimeout(1000);
    await route.continue();
  });
  await page.goto("/jobs/new");
  await page.getByRole("combobox", { name: "Vehicle" }).pressSequentially("plover");
  await page.getByRole("option", { name: "Selwick Plover 2.0 D", exact: true }).click();
  await page.getByLabel("In the customer’s words").fill("The stop light on the left is dead.");
  await page.getByRole("button", { name: "Open the job" }).click();
  await expect(page.getByRole("heading", { name: "Complaint" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Symptoms" })).toBeVisible();
});

test("symptoms that contradict each other are both kept and named, and a part that the vehicle lacks is told", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  await openVan(page, "Something with the horn.");
  const add = async (does: string): Promise<void> => {
    await page.getByRole("combobox", { name: "Part" }).fill("HRN");
    await page.keyboard.press("Tab");
    await page.getByRole("button", { name: /What it does/ }).click();
    await page.getByRole("option", { name: does, exact: true }).click();
    await page.getByRole("button", { name: "Add symptom" }).click();
  };
  await add("dead");
  await expect(page.getByRole("list", { name: "Symptom lines" }).getByRole("listitem")).toHaveCount(1);
  await add("works");
  await expect(page.getByText(/Two lines say different things of one part/)).toBeVisible();
  await page.getByRole("button", { name: "Strike HRN" }).last().click();
  await expect(page.getByText(/Two lines say different things of one part/)).toHaveCount(0);
  await page.getByRole("combobox", { name: "Part" }).fill("tow hitch lamp");
  await page.keyboard.press("Escape");
  await expect(page.getByText("This vehicle, with its options, has no such part.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Add symptom" })).toBeDisabled();
});

test("what the whole vehicle does is found among the parts, and a line says when a part does it", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  await openVan(page, "Towed in this morning.");
  const part = page.getByRole("combobox", { name: "Part" });
  const lines = page.getByRole("list", { name: "Symptom lines" }).getByRole("listitem");
  await part.pressSequentially("does not crank");
  await page.getByRole("option", { name: "whole vehicle: does not crank" }).click();
  // Nothing is taken silently: the part that it comes from is offered.
  await expect(lines).toHaveCount(0);
  await page.getByRole("button", { name: /^STA.*: dead$/ }).click();
  await expect(lines).toHaveText([/STA.*dead.*cranking/]);
  await part.fill("BLO");
  await page.keyboard.press("Tab");
  await page.getByRole("button", { name: /What it does/ }).click();
  await page.getByRole("option", { name: "weak, dim, slow", exact: true }).click();
  await page.getByRole("button", { name: /When/ }).click();
  await page.getByRole("option", { name: "engine running" }).click();
  await page.getByRole("button", { name: "Add symptom" }).click();
  await expect(lines).toHaveCount(2);
  await expect(lines.last()).toHaveText(/BLO.*weak.*idling/);
});

test("Trace is one cockpit: no page scroll, one proposal, and neither it nor the reading field moves in the loop", async ({ page }) => {
  await workAs(page, "Pell Anderby");
  const id = await demoJob(page, /blower in the hold/);
  await page.goto(`/jobs/${id}/trace`);
  const card = page.getByRole("region", { name: "Next test" });
  const leads = card.getByRole("button", { name: /se these leads/ });
  await expect(leads).toBeVisible();
  await page.getByText("A bad joint under load gets hot").click();
  const overflow = (): Promise<number> => page.evaluate(() => document.documentElement.scrollHeight - window.innerHeight);
  expect(await overflow()).toBeLessThanOrEqual(0);
  const where = async (): Promise<readonly (number | undefined)[]> => [
    (await card.boundingBox())?.y,
    (await redLead(page).boundingBox())?.y,
  ];
  const before = await where();
  // Enter takes the proposal, digits go into the reading, Enter records: the new proposal stands where the old one was.
  await redLead(page).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: "Reading", exact: true })).toBeFocused();
  await page.keyboard.press("Escape");
  await page.keyboard.press("m");
  await expect(page.getByRole("tab", { name: "Readings 1" })).toBeVisible();
  await expect(leads).toBeVisible();
  expect(await where()).toEqual(before);
  await expect(page.getByRole("region", { name: "Suspects" })).toHaveAttribute("aria-busy", "false");
  expect(await overflow()).toBeLessThanOrEqual(0);
  // One key strikes the last reading; the log keeps it.
  await page.keyboard.press("Escape");
  await page.locator("body").press("Backspace");
  await expect(page.getByText(/^Struck: /).first()).toBeVisible();
  await page.getByRole("tab", { name: "Readings 1" }).click();
  await expect(page.locator("tr[data-struck]")).toHaveCount(1);
  await page.getByRole("tab", { name: "Close the drawer" }).click();
  // The drawer slides over the lower half and keeps what was open.
  await page.getByRole("tab", { name: "Readings 1" }).click();
  await expect(page.getByRole("tabpanel")).toContainText("HB1");
  await page.reload();
  await expect(page.getByRole("tab", { name: "Readings 1" })).toHaveAttribute("aria-selected", "true");
  await page.getByRole("tab", { name: "Close the drawer" }).click();
  await expect(page.getByRole("tabpanel")).toBeHidden();
});

test("the drawing says how far each part is suspected, and is searched, enlarged and widened", async ({ page }) => {
  await workAs(page, "Pell Anderby");
  const id = await demoJob(page, /both stop lights burn/);
  await page.goto(`/jobs/${id}/trace`);
  const drawing = page.getByRole("region", { name: "Circuit" });
  const suspects = page.getByRole("region", { name: "Suspects" });
  await expect(suspects).toHaveAttribute("aria-busy", "false");
  // The first suspect's share stands beside it in the drawing too.
  const share = (await suspects.getByRole("list", { name: "Suspects" }).locator("b").first().textContent())!;
  await expect(drawing.locator("svg text", { hasText: share }).first()).toBeAttached();
  await expect(drawing.locator("path.suspect").first()).toBeAttached();
  await page.keyboard.press("Escape");
  await page.keyboard.press("/");
  await expect(drawing.getByRole("combobox", { name: "Find in the drawing" })).toBeFocused();
  await page.keyboard.type("G1: ");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  const selected = page.getByRole("region", { name: "Selected" });
  await expect(selected).toContainText("ground G1");
  await expect(selected).toContainText("min to reach");
  await expect(drawing.locator('[data-hit="link:G1"]')).toBeInViewport();
  const fit = drawing.getByRole("button", { name: /Fit the room/ });
  const before = await fit.textContent();
  await drawing.getByRole("button", { name: "Larger" }).click();
  await expect(fit).not.toHaveText(before!);
  await fit.click();
  await expect(fit).toHaveText(before!);
  const parts = async (): Promise<number> =>
    Number(/: (\d+) parts/.exec((await drawing.locator("svg[aria-label^=Circuit]").getAttribute("aria-label"))!)![1]);
  const own = await parts();
  await drawing.getByRole("button", { name: /Draw what shares/ }).click();
  await expect.poll(parts).toBeGreaterThan(own);
});

test("a word typed into the reading answers the test that asks for one, and another is answered with the list", async ({ page }) => {
  await workAs(page, "Pell Anderby");
  const id = await demoJob(page, /It does not crank, not even a click/);
  await page.goto(`/jobs/${id}/trace`);
  const card = page.getByRole("region", { name: "Next test" });
  const field = page.getByRole("textbox", { name: "Reading", exact: true });
  await expect(card).toContainText(/does R2 \(start relay\) work/);
  await field.fill("purple");
  await field.press("Enter");
  await expect(page.getByText(/“purple” does not answer the next test. Type works, weak, dead/)).toBeVisible();
  await field.fill("no click");
  await field.press("Enter");
  await expect(field).toHaveValue("");
  const last = async (): Promise<unknown> => {
    const { events } = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: { type: string; data: unknown }[] };
    return events.findLast((e) => e.type === "seen")?.data;
  };
  await expect.poll(last).toMatchObject({ word: "none", observe: { kind: "part", part: "R2" } });
});
