import { expect, test } from "@playwright/test";
import { HEATER, circuitText, openJob, reading, redLead, workAs } from "./pages.ts";

test.beforeEach(({ page }) => workAs(page, "Pell Anderby"));

test("a circuit with errors names line and column, in the list and in the editor, and is kept", async ({ page }) => {
  const id = await openJob(page, "bad circuit");
  await page.goto(`/jobs/${id}/circuit`);
  await circuitText(page).click();
  await page.keyboard.insertText(
    'BAT -- RD 0mm2 1m -- F1(10A) -- RD 1mm2 1m -- LA(lamp 5W) -- BK 1mm2 1m -- G1\nG1 -- BX 25mm2 0.5m -- BAT\nG9("spare")',
  );
  await expect(page.getByRole("button", { name: /Line 1, column 11:.*area of 0 mm²/ })).toBeVisible();
  await expect(page.getByRole("button", { name: /Line 2, column 7:.*"BX" is not a wire colour/ })).toBeVisible();
  await expect(page.locator(".cm-lintRange-error")).toHaveCount(2);
  // A press leads to the place.
  await page.getByRole("button", { name: /Line 2, column 7/ }).click();
  await page.keyboard.press("Delete");
  await page.keyboard.press("Delete");
  await page.keyboard.type("BK");
  await expect(page.getByRole("button", { name: /Line 2, column 7/ })).toHaveCount(0);
  // A reload loses nothing of it.
  await expect.poll(() => page.evaluate(() => JSON.stringify({ ...localStorage }))).toContain("BK 25mm2");
  await page.reload();
  await expect(circuitText(page)).toContainText("BK 25mm2");
  await page.getByRole("button", { name: /Line 1, column 11/ }).click();
  await page.keyboard.press("Delete");
  await page.keyboard.type("2");
  // What is left is a ground that nobody reaches: doubtful, but usable.
  await expect(page.getByText("Usable, 1 doubtful")).toBeVisible();
  await expect(page.getByRole("button", { name: /Line 3, column 1: Nothing reaches ground G9/ })).toBeVisible();
});

test("a paste of 4 MB is turned down with its size, and the page stays alive", async ({ page }) => {
  const id = await openJob(page, "big paste", HEATER);
  await page.goto(`/jobs/${id}/circuit`);
  await circuitText(page).click();
  await page.keyboard.press("Control+a");
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData("text/plain", "BAT -- RD 1mm2 1m -- F1(10A) -- RD 1mm2 1m -- G1\n".repeat(85_000));
    document
      .querySelector(".cm-content")!
      .dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(page.getByText(/This text has 4,\d{3},\d{3} characters; a circuit has at most 200,000/)).toBeVisible();
  await expect(page.getByRole("button", { name: /Save and trace/ })).toBeDisabled();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("No problem in 4 lines")).toBeVisible();
});

test("readings that are none come back at their field with what to type, and nothing is stored", async ({ page }) => {
  const id = await openJob(page, "bad readings", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  const red = redLead(page);
  const value = reading(page);
  await red.fill("F7.2");
  for (const [typed, message] of [
    ["12,31", /Type the decimal point: 12\.31/],
    ["12.3.1", /more than one point/],
    ["", /Type what the meter shows/],
    ["12.3 bar", /not a unit of a meter/],
    ["3 ohm", /meter is set to volts/],
  ] as const) {
    await value.fill(typed);
    await value.press("Enter");
    await expect(page.getByText(message)).toBeVisible();
    await expect(value).toHaveValue(typed);
  }
  // Places: two sides, none at all, both leads on one.
  await value.fill("12.4");
  await red.fill("F7");
  await value.press("Enter");
  await page
    .getByRole("form", { name: "Reading" })
    .getByRole("button", { name: /^F7\.1/ })
    .click();
  await expect(red).toHaveValue("F7.1");
  await red.fill("Q1");
  await red.press("Enter");
  await expect(page.getByText(/There is no “Q1” in this circuit/)).toBeVisible();
  await red.fill("-");
  await value.press("Enter");
  await expect(page.getByText(/Both leads on one point/)).toBeVisible();
  // Ohms on a live circuit are held back, with a way to record them all the same.
  await page.getByText("Ω", { exact: true }).click();
  await red.fill("F7.1");
  await value.fill("OL");
  await value.press("Enter");
  await expect(page.getByText(/ohms on a live circuit prove nothing/)).toBeVisible();
  await expect(page.getByRole("tab", { name: "Readings 0" })).toBeVisible();
  await page.getByRole("button", { name: "Record anyway" }).click();
  await expect(page.getByRole("tab", { name: "Readings 1" })).toBeVisible();
});

test("what can hurt somebody is refused with what to do instead; what can hurt a module may be done all the same, and the log says so", async ({
  page,
}) => {
  await workAs(page, "Ansa Tollan");
  const notation = `circuit "bag and valve"
BAT(12.6V)
ECM(module pin 1 supply, pin 2 ground, pin 4 low when=engine=idling "module")
SQ(squib "left bag")
G1 -- BK 16mm2 0.5m -- BAT -- RD 2.5mm2 0.5m -- F1(10A) -- RD 1mm2 0.4m -- V1(coil 12ohm "valve") -- GN 1mm2 0.5m -- C1.1 -- GN 1mm2 0.5m -- ECM.4
F1 -- RD 1mm2 0.4m -- ECM.1
ECM.2 -- BN 1mm2 0.4m -- G1
SQ.1 -- YE 0.75mm2 0.5m -- C3.1 -- YE 0.75mm2 0.5m -- LP(lamp 5W "bag lamp") -- BN 0.75mm2 0.5m -- G1
SQ.2 -- YE 0.75mm2 0.5m -- C3.2 -- YE 0.75mm2 0.5m -- G1`;
  await page.goto(`/jobs/${await openJob(page, "valve sticks", notation)}/trace`);
  await redLead(page).fill("C3.1b");
  await reading(page).fill("0.1");
  await reading(page).press("Enter");
  await expect(page.getByText(/belongs to an igniter/)).toBeVisible();
  await expect(page.getByRole("tab", { name: "Readings 0" })).toBeVisible();
  await page.getByLabel("Verdict").click();
  await page.keyboard.press("Escape");
  await page.getByRole("tab", { name: /Temporary changes/ }).click();
  await page.getByRole("button", { name: /Add what you change/ }).click();
  const dialog = page.getByRole("dialog");
  const choose = async (kind: string): Promise<void> => {
    await dialog.getByRole("button", { name: /What/ }).click();
    await page.getByRole("option", { name: kind, exact: true }).click();
  };
  await choose("jumpered");
  await dialog.getByLabel("From").fill("BAT.+");
  await dialog.getByLabel("To", { exact: true }).fill("G1");
  await dialog.getByRole("button", { name: "Add", exact: true }).click();
  await expect(dialog.getByText(/joins battery positive to ground/)).toBeVisible();
  await expect(dialog.getByRole("button", { name: "Record anyway" })).toHaveCount(0);
  await choose("lamp fitted");
  await dialog.getByLabel("From").fill("C1.1a");
  await dialog.getByLabel("To", { exact: true }).fill("BAT.-");
  await dialog.getByRole("button", { name: "Add", exact: true }).click();
  await expect(dialog.getByText(/overload its driver/)).toBeVisible();
  await dialog.getByRole("button", { name: "Record anyway" }).click();
  await expect(dialog.getByText(/C1\.1a lamp fitted to BAT\.-.*done all the same/)).toBeVisible();
});

test("addresses and jobs that do not exist say so and lead back", async ({ page }) => {
  await page.goto("/jobs/0190a1b2-c3d4-7e5f-8a9b-000000000000/trace");
  await expect(page.getByText("There is no job 0190a1b2", { exact: false })).toBeVisible();
  await page.goto("/jobs/17/trace");
  await expect(page.getByText("Job ids are UUIDs of version 7", { exact: false })).toBeVisible();
  await page.goto("/no/such/page");
  await page.getByRole("link", { name: "board", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Board" })).toBeVisible();
});

test("a form without what it needs says so at the field, and a draft survives a reload", async ({ page }) => {
  await page.goto("/jobs/new");
  await page.getByRole("button", { name: "Open the job" }).click();
  await expect(page.getByText("Which vehicle is it?", { exact: false })).toBeVisible();
  await expect(page.getByText("Write what the customer said", { exact: false })).toBeVisible();
  await page.getByRole("combobox", { name: "Vehicle" }).fill("Morven Gritter");
  await page.getByLabel("In the customer’s words").fill("<script>alert(1)</script> & more");
  await page.reload();
  await expect(page.getByLabel("In the customer’s words")).toHaveValue("<script>alert(1)</script> & more");
});

test("half a mend survives a look at another screen and a reload", async ({ page }) => {
  const id = await openJob(page, "half a mend", HEATER);
  await page.goto(`/jobs/${id}/mend`);
  await page.getByRole("button", { name: "Save repair" }).click();
  await expect(page.getByText("Say what you found there", { exact: false })).toBeVisible();
  await page.getByRole("textbox", { name: "Where" }).fill("C5.2");
  await page.getByRole("textbox", { name: "Found" }).fill("Green socket");
  await page.getByRole("link", { name: /Trace/ }).first().click();
  await expect(redLead(page)).toBeVisible();
  await page.getByRole("link", { name: /Repair/ }).click();
  await expect(page.getByRole("textbox", { name: "Found" })).toHaveValue("Green socket");
  await page.reload();
  await expect(page.getByRole("textbox", { name: "Where" })).toHaveValue("C5.2");
});
