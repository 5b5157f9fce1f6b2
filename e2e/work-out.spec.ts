import { expect, test } from "@playwright/test";
import { HEATER, lastOf, openJob, takeReading, workAs } from "./pages.ts";

test("what is worked out begins from the circuit and the readings, and goes back into it as a reading that says so", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Cab heater is weak", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await takeReading(page, "HTR.2", "0.9");
  await page.goto(`/jobs/${id}/trace?at=F7`);
  await page.getByRole("button", { name: "Work out" }).click();
  const dialog = page.getByRole("dialog", { name: "Work out at F7" });
  const fuse = dialog.getByRole("region", { name: "Current through F7 from its millivolts" });
  await expect(fuse).toContainText("blade fuse of 25 A");
  await expect(fuse).toContainText("What is missing is typed here");
  await fuse.getByLabel("Across the fuse, mV").fill("thirty");
  await expect(fuse).toContainText("A number, such as 0.44.");
  // 2.5 mΩ of a cold 25 A fuse: 30 mV are 12 A. A decimal comma is a point.
  await fuse.getByLabel("Across the fuse, mV").fill("30,0");
  await expect(fuse).toContainText(/12\.0\sA/);
  await fuse.getByRole("button", { name: "Record it" }).click();
  await expect(dialog).toHaveCount(0);
  // The screen stands before the server has it: the log is asked until it does.
  await expect
    .poll(() => lastOf(page, id, "reading-taken"))
    .toMatchObject({
      leads: { quantity: "amps", around: "F7" },
      text: "12.0 A",
      instrument: "worked out",
    });
  // What was measured stands in the fields with its time.
  await page.goto(`/jobs/${id}/trace?at=W5`);
  await page.getByRole("button", { name: "Work out" }).click();
  const drop = page.getByRole("region", { name: "Resistance of W5 from its drop" });
  await expect(drop).toContainText("of a good circuit, by the model");
  await drop.getByLabel("Drop across it, V").fill("0.9");
  await expect(drop).toContainText("Without current nothing drops");
  await drop.getByLabel("Current through it, A").fill("12");
  await expect(drop).toContainText(/75\smΩ/);
  await page.getByRole("button", { name: "Close" }).click();
});
