import { expect, test } from "@playwright/test";
import { openJob, workAs } from "./pages.ts";

/** A feed that runs beside others through a loom that crosses an edge. */
const LOOM = `circuit "Sill loom, bench van"
zone sill "left sill" 5min rub
loom rail "along the left sill" in sill rub crosses "edge of the seat rail"
BAT(12.6V) -- W1 RD 6mm2 0.8m -- F7(25A) -- W2 RD/BU 2.5mm2 2.4m via=rail -- SW3 -- W3 BU 2.5mm2 1.6m via=rail -- HTR(heater 15A "cab heater")
HTR -- W5 BK 2.5mm2 0.7m via=rail -- G6
F7 -- W4 GN 1mm2 1m via=rail -- LA(lamp 21W "cab lamp") -- W7 BK 1mm2 1m -- G6
G1 -- W6 BK 25mm2 0.5m -- BAT`;

test("a chafed wire is repaired with its neighbours, its joint and its price, and nothing closes over what was left", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Heater blows its fuse", LOOM);
  await page.goto(`/jobs/${id}/mend`);
  await page.getByLabel("Where", { exact: true }).fill("W2");
  await page.getByRole("button", { name: "chafed through", exact: true }).click();
  await expect(page.getByLabel("Cause", { exact: true })).toHaveValue("Rubs on the edge of the seat rail.");
  await page.getByRole("button", { name: /How/ }).click();
  await page.getByRole("option", { name: "wire joined" }).click();
  await page.getByRole("button", { name: "crimp and seal" }).click();
  await page.getByLabel("New piece, mm²").fill("0.35");
  await page.getByLabel("Length, m").fill("3");
  await expect(page.getByText(/thinner than drawn: 0.35 mm² instead of 2.5 mm²/)).toBeVisible();
  await page.getByLabel("New piece, mm²").fill("2.5");
  await page.getByLabel("Length, m").fill("0,15");
  await expect(page.getByText("Not this piece")).toHaveCount(0);
  await page.getByRole("textbox", { name: "Found" }).fill("Bare for two fingers’ width.");
  // One key a neighbour, and on to the next.
  const beside = page.getByRole("region", { name: "Neighbours at risk" });
  await expect(beside).toContainText("0 of 3 looked at");
  const first = beside.getByRole("listitem").first();
  const nicked = (await first.locator("strong").textContent())!;
  await first.getByRole("button").first().focus();
  await page.keyboard.press("n");
  await page.keyboard.press("g");
  await expect(beside).toContainText("2 of 3 looked at");
  await page.getByRole("button", { name: "Save repair" }).click();
  await expect(page.getByText("W2, wire joined, chafed through; edge guarded.")).toBeVisible();

  // Estimate, and the customer's word.
  const estimate = page.getByRole("region", { name: "Estimate" });
  await estimate.getByRole("button", { name: "Make an estimate" }).click();
  await estimate.getByRole("group", { name: "Line 1" }).getByLabel("Price of one").fill("60,50");
  await estimate.getByLabel("Currency").fill("QQQ");
  await estimate.getByRole("button", { name: "Save estimate" }).click();
  await expect(estimate.getByText("Not saved")).toBeVisible();
  await estimate.getByLabel("Currency").fill("EUR");
  await estimate.getByRole("button", { name: "Save estimate" }).click();
  await expect(estimate.getByRole("row", { name: /Total/ })).toContainText("36.30");
  await estimate.getByLabel("Who said so").fill("the owner");
  await estimate.getByRole("button", { name: "Save answer" }).click();
  await expect(estimate.getByText(/accepted by the owner/)).toBeVisible();

  // Steps outlive a reload.
  await page.getByRole("region", { name: "Steps" }).getByText("Key off and out").click();
  await page.reload();
  await expect(page.getByRole("region", { name: "Steps" })).toContainText(/1 of \d+ done/);

  // Nothing closes over a neighbour that was left, nor over a nicked one.
  await page.goto(`/jobs/${id}/record`);
  await expect(page.getByText(/Beside W2: .* not looked at/)).toBeVisible();
  await expect(page.getByText(new RegExp(`${nicked} beside W2 nicked and not repaired`))).toBeVisible();
  await page.goto(`/jobs/${id}/mend`);
  await page.getByRole("button", { name: `${nicked} repaired` }).click();
  await page.getByLabel("Not looked at, because").fill("behind the fuel tank");
  await page.getByRole("button", { name: "Leave them" }).click();
  await page.goto(`/jobs/${id}/record`);
  await expect(page.getByText("Neighbours at risk")).toHaveCount(0);
  const record = page.getByRole("region", { name: "Repair record" });
  await expect(record).toContainText(`2 looked at, 1 good; ${nicked} repaired`);
  await expect(record).toContainText("crimp and seal; new piece 0.15 m of 2.5 mm²");
});

test("a part is withheld until it is proven, or signed for; the drive and a changed log are told", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Heater is dead", LOOM);
  await page.goto(`/jobs/${id}/mend`);
  // A fuse larger than drawn is a finding in itself.
  await page.getByLabel("Where", { exact: true }).fill("F7");
  await page.getByLabel("Fuse found fitted, A").fill("40");
  await expect(page.getByText(/F7: 40 A fitted, 25 A drawn. The wires behind it are not protected/)).toBeVisible();
  // Nor does a larger one go in unsaid.
  await page.getByRole("button", { name: /How/ }).click();
  await page.getByRole("option", { name: "fuse replaced" }).click();
  await page.getByLabel("Fuse put in, A").fill("30");
  await expect(page.getByRole("alert").getByText(/F7: 30 A in place of 25 A. The wires behind it are not protected/)).toBeVisible();
  await page.getByLabel("Where", { exact: true }).fill("HTR");
  await page.getByRole("button", { name: /How/ }).click();
  await page.getByRole("option", { name: "part replaced" }).click();
  await expect(page.getByText("Do not replace HTR yet")).toBeVisible();
  const save = page.getByRole("button", { name: "Save repair" });
  await expect(save).toBeDisabled();
  // The part stands in the estimate.
  await page.getByRole("button", { name: "Make an estimate" }).click();
  await expect(page.getByRole("group", { name: "Line 3" }).getByLabel("Text")).toHaveValue("HTR");
  await page.getByRole("button", { name: "Cancel" }).click();
  await page.getByRole("textbox", { name: "Found" }).fill("Looks old.");
  await page.getByLabel("Replace without proof, because").fill("the owner brought the part");
  await save.click();
  await expect(page).toHaveURL(/\/prove/);

  const drive = page.getByRole("region", { name: "Test drive" });
  await expect(drive.getByRole("button", { name: "Save test drive" })).toBeDisabled();
  await drive.getByText("not possible now").click();
  await drive.getByLabel("Odometer before").fill("12x");
  await drive.getByRole("button", { name: "Save test drive" }).click();
  await expect(drive.getByText(/A number from 0/)).toBeVisible();
  await drive.getByLabel("Odometer before").fill("1200");
  await drive.getByRole("button", { name: "Save test drive" }).click();
  await expect(drive.getByText(/^not possible now/).first()).toBeVisible();
  // What was typed does not come back once it is saved.
  await page.reload();
  await expect(drive.getByLabel("Odometer before")).toHaveValue("");
  const { jobs } = (await (await page.request.get("/api/jobs?limit=200")).json()) as {
    jobs: { id: string; next: string; waits?: string }[];
  };
  expect(JSON.stringify(jobs.find((j) => j.id === id))).toContain("test drive");

  await page.goto(`/jobs/${id}/record`);
  await expect(page.getByRole("region", { name: "Repair record" })).toContainText("the owner brought the part. Signed: Inga Torsvik");
  await page.getByRole("button", { name: "More" }).click();
  const log = await (await page.request.get(`/api/jobs/${id}/log.json`)).text();
  const check = async (text: string): Promise<void> =>
    page.getByLabel("Saved log to check").setInputFiles({ name: "log.json", mimeType: "application/json", buffer: Buffer.from(text) });
  await check(log);
  await expect(page.getByText("Every entry fits")).toBeVisible();
  await check(log.replace("Looks old.", "Looks new."));
  await expect(page.getByText(/Entry \d+ of \d+ does not fit: mend-made/)).toBeVisible();
  await check("{");
  await expect(page.getByText(/log.json is not valid JSON/)).toBeVisible();

  // Out as one file and in again: all of it is here already. A damaged one says what is wrong.
  const zip = await (await page.request.get(`/api/jobs/${id}/bundle.zip`)).body();
  await page.goto("/");
  const take = async (buffer: Buffer): Promise<void> =>
    page.getByLabel("Bundle of a job").setInputFiles({ name: "job.zip", mimeType: "application/zip", buffer });
  await take(zip.subarray(0, 300));
  await expect(page.getByText(/job.zip: The bundle cannot be taken: it is not a zip file/)).toBeVisible();
  await take(zip);
  await expect(page).toHaveURL(new RegExp(`/jobs/${id}/record`));
});

test("the shop's settings are checked, and a new estimate begins with them", async ({ page }) => {
  await workAs(page, "Una Skarne");
  const before: unknown = await (await page.request.get("/api/shop")).json();
  await page.goto("/shop");
  const form = page.getByRole("region", { name: "Settings" });
  await form.getByLabel("Currency").fill("qq");
  await form.getByRole("button", { name: "Save settings" }).click();
  await expect(form.getByText("Three letters of a currency")).toBeVisible();
  await form.getByLabel("Currency").fill("GBP");
  await form.getByLabel("An hour of labour costs").fill("88,50");
  await form.getByRole("button", { name: "Save settings" }).click();
  await expect(page.getByText("Settings saved")).toBeVisible();
  const id = await openJob(page, "Horn", "BAT -- W1 -- F1(10A) -- W2 -- HRN(horn 5A) -- W3 -- G1\nG1 -- W4 -- BAT");
  await page.goto(`/jobs/${id}/mend`);
  const estimate = page.getByRole("region", { name: "Estimate" });
  await estimate.getByRole("button", { name: "Make an estimate" }).click();
  await expect(estimate.getByLabel("Currency")).toHaveValue("GBP");
  const first = estimate.getByRole("group", { name: "Line 1" });
  await expect(first.getByLabel("Price of one")).toHaveValue("88.50");
  // Half an estimate outlives a reload.
  await first.getByLabel("Text").fill("Trace the horn");
  await page.reload();
  await expect(first.getByLabel("Text")).toHaveValue("Trace the horn");
  await estimate.getByRole("button", { name: "Save estimate" }).click();
  await estimate.getByLabel("Worked so far, hours").fill("2");
  await estimate.getByRole("button", { name: "Save time" }).click();
  await expect(estimate.getByText(/Worked 2 h of .* estimated/)).toBeVisible();
  await page.goto(`/jobs/${id}/record`);
  await expect(page.getByText("Worked 2 h in all.")).toBeVisible();
  // As they were, for whoever comes after.
  expect((await page.request.put("/api/shop", { data: before })).status()).toBe(200);
});
