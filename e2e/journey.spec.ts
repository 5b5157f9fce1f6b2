import { expect, test, type Page } from "@playwright/test";
import { choose, HEATER, demoJob, handSwitch, openJob, redLead, takeReading, workAs } from "./pages.ts";

/** Presses Tab until something with this accessible name has the focus. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
  const seen: string[] = [];
  for (let i = 0; i < 60; i++) {
    await page.keyboard.press("Tab");
    const label = await page.evaluate(() => {
      const e = document.activeElement as HTMLElement | null;
      if (e === document.body) return "";
      const labelled = e
        ?.getAttribute("aria-labelledby")
        ?.split(" ")
        .map((id) => document.getElementById(id)?.textContent ?? "")
        .join(" ");
      return (
        e?.getAttribute("aria-label") ??
        (labelled === undefined || labelled === "" ? (e?.closest("label")?.textContent ?? e?.textContent ?? "") : labelled)
      );
    });
    if (name.test(label)) return;
    seen.push(label.slice(0, 40));
  }
  throw new Error(`nothing named ${name} can be reached with Tab, only ${seen.join(" | ")}`);
}

test("carries a new job from complaint to a proven, printed repair by keyboard alone", async ({ page }) => {
  // Minutes of a technician's work in one go: a busy machine needs more than the usual minute.
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "Board" })).toBeVisible();
  // Complaint.
  await page.keyboard.press("c");
  await expect(page.getByRole("combobox", { name: "Vehicle" })).toBeFocused();
  await page.keyboard.type("Selwick Plover 2.0 D");
  await page.keyboard.press("Tab");
  await page.keyboard.type("SKV 207");
  await tabTo(page, /customer/);
  await page.keyboard.type("The cab heater only gets lukewarm.");
  await tabTo(page, /Open the job/);
  await page.keyboard.press("Enter");
  // Every entry carries a name; the first one asks for it.
  await expect(page.getByLabel("Your name")).toBeFocused();
  await page.keyboard.type("Nils Varga");
  await page.keyboard.press("Enter");
  // Circuit, typed.
  await expect(page.getByRole("heading", { name: "Circuit", exact: true })).toBeVisible();
  await tabTo(page, /Circuit text/);
  await page.keyboard.type(HEATER);
  await expect(page.getByText(/No problem in 4 lines/)).toBeVisible();
  await expect(page.getByRole("heading", { name: "Cab heater, bench van" })).toBeVisible();
  await page.keyboard.press("Control+Enter");
  // Trace. The state first: nothing flows as long as nothing is switched on.
  await expect(redLead(page)).toBeFocused();
  await expect(page.getByText("No current flows, so this reading does not test the wire.")).toBeVisible();
  for (let i = 0; i < 3; i++) await page.keyboard.press("Shift+Tab");
  await page.keyboard.press("Space");
  await expect(handSwitch(page, "SW3")).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("Escape");
  await page.keyboard.press("r");
  // The tool's own proposals, taken with Enter in the empty field, and readings as a meter shows them.
  await expect(page.getByLabel("Verdict")).toContainText("Begin at the battery");
  await page.keyboard.press("Enter");
  // Also beside its field a reading lands in it.
  await page.keyboard.press("Escape");
  await page.keyboard.type("12.51");
  await page.keyboard.press("Enter");
  await takeReading(page, "htr.1", "10.43 V");
  await takeReading(page, "htr.2", "94 mV");
  await expect(page.getByLabel("Verdict")).toContainText("2.08 V dropped between BAT.+ and HTR.1");
  await takeReading(page, "c5.2a", "12.10");
  await takeReading(page, "c5.2b", "10.55");
  await expect(page.getByLabel("Verdict")).toContainText("1.55 V dropped between C5.2a and C5.2b");
  await expect(page.getByLabel("Verdict")).toContainText("mΩ instead of");
  // What is unplugged goes into the tray.
  await page.keyboard.press("Escape");
  await page.keyboard.press("t");
  await tabTo(page, /^Where/);
  await page.keyboard.type("c5");
  await page.keyboard.press("Enter");
  await expect(page.getByText("C5 unplugged").first()).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: /Temporary changes 1/ })).toBeVisible();
  // Repair.
  await page.keyboard.press("j");
  await expect(page.getByRole("heading", { name: "Repair", exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: "C5.2" })).toBeVisible();
  await tabTo(page, /^C5\.2$/);
  await page.keyboard.press("Enter");
  await tabTo(page, /^Done/);
  await page.keyboard.type("Terminal renewed and sealed.");
  await tabTo(page, /Save repair/);
  await page.keyboard.press("Enter");
  // Verify: plug in again, then the same two readings.
  await expect(page.getByText("Not repeated yet.", { exact: false })).toBeVisible();
  await expect(page.getByText("Not in the same state.", { exact: false })).toBeVisible();
  await tabTo(page, /^Put back: C5/);
  await page.keyboard.press("Enter");
  await expect(page.getByText("Not in the same state.", { exact: false })).toHaveCount(0);
  await tabTo(page, /Again: C5\.2a/);
  await page.keyboard.type("12.07");
  await page.keyboard.press("Enter");
  await tabTo(page, /Again: C5\.2b/);
  await page.keyboard.type("12.04");
  await page.keyboard.press("Enter");
  // A good drop alone proves nothing: a circuit that is off drops none either.
  await expect(page.getByText(/Good, but nothing shows that current flowed/)).toBeVisible();
  await page.getByRole("region", { name: "Does it work now" }).getByRole("button", { name: "Works" }).press("Enter");
  await expect(page.getByText("Verified: the failed test now passes.")).toBeVisible();
  // Record and close.
  await page.keyboard.press("Escape");
  await page.keyboard.press("j");
  await expect(page.getByRole("heading", { name: "Close the job" })).toBeVisible();
  // Whether it is safe to drive is not presumed.
  await expect(page.getByRole("button", { name: "Close the job" })).toBeDisabled();
  await tabTo(page, /^yes$/);
  await page.keyboard.press("Space");
  await tabTo(page, /^Close the job/);
  await page.keyboard.press("Enter");
  await expect(page.getByText("This job is closed.", { exact: false })).toBeVisible();
  const record = page.getByRole("region", { name: "Repair record" });
  for (const text of ["The cab heater only gets lukewarm.", "Terminal renewed and sealed.", "Nils Varga", "verified", "1.55 V"]) {
    await expect(record.getByText(text, { exact: false }).first()).toBeVisible();
  }
  // On paper only the record is left, light.
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("navigation")).toBeHidden();
  await expect(page.getByRole("button", { name: "Print" })).toBeHidden();
  await expect(record).toBeVisible();
  const href = await page.evaluate(() => document.querySelector<HTMLAnchorElement>('a[href$="report.pdf"]')!.href);
  const pdf = await page.request.get(href);
  expect(pdf.headers()["content-type"]).toBe("application/pdf");
  expect((await pdf.body()).subarray(0, 5).toString()).toBe("%PDF-");
});

test("traces a demo job on its simulated vehicle, proposal by proposal, to the part that is at fault", async ({ page }) => {
  await workAs(page, "Pell Anderby");
  const id = await demoJob(page, /blower in the hold/);
  // It opens in the state and on the load of the customer's symptom.
  await page.goto(`/jobs/${id}/trace`);
  await expect(handSwitch(page, "SW4")).toHaveAttribute("aria-pressed", "true");
  await followProposals(page, /Enough to repair C21\.4/);
  // The drawing shows it at the same place, and a press tells what it is.
  await page.locator('[data-hit="link:C21.4"]').first().click();
  await expect(page.getByLabel("Selected")).toContainText("connector C21 cavity 4");
  expect(page.url()).toContain("at=C21.4");
});

test("weighs the suspects: says why a new part must wait, prepares the vehicle, and finds the wire", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await demoJob(page, /spinner does not turn/);
  await page.goto(`/jobs/${id}/trace`);
  const left = page.getByRole("region", { name: "Suspects" });
  // In a state in which a sound one stands still too, nothing can be complained of.
  await expect(left.getByText("The part should be off in this state.")).toBeVisible();
  await handSwitch(page, "SW2").click();
  await choose(page, "Key", "run");
  await left.getByRole("button", { name: "Dead" }).click();
  await followProposals(page, /Enough to repair W5/);
  await left.getByText("why").first().click();
  await expect(left.getByText(/^supports: volts/).first()).toBeVisible();
  await expect(page.getByRole("tab", { name: /Log/ })).toBeVisible();
  // It all outlives a reload.
  await page.reload();
  await expect(left.getByText(/Enough to repair W5/)).toBeVisible();
  await left.getByRole("link", { name: "Go to Repair" }).click();
  await expect(page.getByRole("heading", { name: "Repair", exact: true })).toBeVisible();
});

/** Does what the one card proposes, with the simulated vehicle's readings, until it is enough. */
async function followProposals(page: Page, enough: RegExp): Promise<void> {
  const left = page.getByRole("region", { name: "Suspects" });
  const next = page.getByRole("region", { name: "Next test" });
  for (let i = 0; i < 14; i++) {
    await expect(left).toHaveAttribute("aria-busy", "false");
    if ((await left.getByText(enough).count()) > 0) break;
    const leads = next.getByRole("button", { name: /se these leads/ });
    if ((await leads.count()) > 0) {
      const before = await page.getByRole("tab", { name: /Readings/ }).textContent();
      await leads.click();
      await page.getByRole("button", { name: /simulated vehicle/ }).click();
      await expect(page.getByRole("tab", { name: /Readings/ })).not.toHaveText(before ?? "");
    } else await next.getByRole("button", { name: /Another test/ }).click();
  }
  await expect(left.getByText(enough)).toBeVisible();
}

test("puts leads by tapping the drawing, strikes a mistyped reading, and keeps both in the log", async ({ page }) => {
  await workAs(page, "Morag Quill");
  const id = await openJob(page, "Heater lukewarm", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await handSwitch(page, "SW3").click();
  await page.locator('[data-hit="place:F7.2"]').first().click();
  await expect(redLead(page)).toHaveValue("F7.2");
  await page.keyboard.type("2.48");
  await page.keyboard.press("Enter");
  // What is left grows above the tabs as its answer comes in; a press that has begun does not follow.
  await expect(page.getByRole("region", { name: "Suspects" })).toHaveAttribute("aria-busy", "false");
  await page.getByRole("tab", { name: /Readings 1/ }).click();
  await page.getByRole("button", { name: /^Strike F7.2/ }).click();
  await page.getByRole("button", { name: "Strike it" }).click();
  await expect(page.locator("tr[data-struck]")).toContainText("2.48 V");
  await page.getByRole("tab", { name: /Log/ }).click();
  await expect(page.getByText("Struck: mistyped")).toBeVisible();
});
