import { expect, test } from "@playwright/test";
import { choose, demoJob, stateChip, uuid7, workAs } from "./pages.ts";

test("a job is found on another device as it was left, and the board says what is next and whose it is", async ({ page, browser }) => {
  await workAs(page, "Inga Torsvik");
  const id = await demoJob(page, /horn is dead/);
  await page.goto(`/jobs/${id}/trace`);
  await choose(page, "Key", "accessory");
  await expect(page.getByRole("region", { name: "Next test" })).toContainText("Next");
  const next = async (): Promise<{ next: string; whose: string }> => {
    const { jobs } = (await (await page.request.get("/api/jobs?limit=200")).json()) as {
      jobs: { id: string; next: string; whose: string }[];
    };
    return jobs.find((j) => j.id === id)!;
  };
  await expect.poll(async () => (await next()).next).not.toBe("");

  const other = await browser.newContext();
  const there = await other.newPage();
  await workAs(there, "Morag Quill");
  await there.goto(`/jobs/${id}/trace`);
  await expect(stateChip(there, "Key")).toContainText("accessory");
  // The board has more jobs by now than a page shows.
  await there.goto("/");
  await there.getByRole("textbox", { name: "Find" }).fill("horn is dead");
  const row = there.getByRole("row", { name: /Gritter.*horn is dead/ });
  await expect(row).toContainText((await next()).next);

  // Whose it is and what it waits for, in four taps.
  await row.getByRole("button", { name: /Whose job/ }).click();
  await there.getByRole("dialog").getByRole("button", { name: "Morag Quill" }).click();
  await there.getByRole("button", { name: "part", exact: true }).click();
  await there.getByLabel("Until").fill("2026-12-01");
  await there.getByRole("button", { name: "Save" }).click();
  await expect(row).toContainText(/waits for part/);
  await expect(row).toContainText("Morag Quill");
  await there.getByRole("button", { name: /everybody’s/ }).click();
  await there.getByRole("option", { name: "Morag Quill" }).click();
  await expect(there).toHaveURL(/whose=Morag/);
  await expect(row).toBeVisible();
  await other.close();
});

test("a plate that was here before brings its vehicle and what was done then", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  await page.goto("/jobs/new");
  // Blanks and capitals do not matter.
  await page.getByRole("combobox", { name: "Vehicle" }).pressSequentially("skv207");
  await page.getByRole("option", { name: /SKV 207, Selwick Plover/ }).click();
  await expect(page.getByLabel("Plate or fleet number")).toHaveValue("SKV 207");
  await expect(page.getByLabel("In the customer’s words")).toBeFocused();
  await expect(page.getByRole("region", { name: "Here before" })).toContainText(/Here .* ago: still open/);
  await expect(page.getByRole("group", { name: "Options" })).toContainText("adds cold body module");
});

test("a practice fault begins with a complaint and a simulated vehicle, and a finished job can be looked at", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  await page.route("**/api/jobs?*", async (route) => route.fulfill({ json: { jobs: [], total: 0, counts: {}, people: [] } }));
  await page.goto("/");
  for (const way of ["A vehicle in the bay", "A fault to practise on", "A finished job"])
    await expect(page.getByRole("region", { name: way })).toBeVisible();
  await page.getByRole("button", { name: "Practise" }).click();
  await expect(page).toHaveURL(/\/practice/);
  await page.goto("/practice?vehicle=bench+rig-horn&family=open&advice=on");
  await page.getByRole("button", { name: "Start", exact: true }).click();
  await expect(page.getByLabel("In the customer’s words")).toHaveValue(/horn/i);
  await page.getByRole("link", { name: "Start tracing" }).click();
  await expect(page.getByRole("list", { name: "Suspects" }).getByRole("listitem").first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Simulate" })).toBeVisible();
  await page.goto("/");
  await page.getByRole("button", { name: "Have a look" }).click();
  await expect(page.getByText("This job is closed")).toBeVisible();
});

test("the circuit of a vehicle's job opens on the slice of its complaint; what is different is marked in it", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await demoJob(page, /not to be heard/);
  await page.request.post(`/api/jobs/${id}/events`, {
    data: {
      events: [
        {
          id: uuid7(),
          jobId: id,
          at: new Date().toISOString(),
          by: "Inga Torsvik",
          type: "found-different",
          data: { at: "W112", what: "colour", drawn: "BU/RD", found: "BU/WH" },
        },
      ],
    },
  });
  await page.goto(`/jobs/${id}/circuit`);
  const drawing = page.getByRole("main", { name: "Drawing" });
  await expect(drawing.getByText("found: BU/WH")).toBeVisible();
  await drawing.locator('[data-hit="link:W112"]').click();
  await expect(drawing.getByRole("region", { name: "Where on the vehicle" })).toBeVisible();
  await page.getByText("Text, form, version").click();
  await expect(page.getByRole("button", { name: /Trace/ }).first()).toBeVisible();
  await expect(page).toHaveURL(/view=text/);
});
