import { readFileSync } from "node:fs";
import { expect, test } from "@playwright/test";
import { lastOf, openJob, workAs } from "./pages.ts";

const BRIGG = readFileSync(new URL("../demo/vehicles/brigg.circuit", import.meta.url), "utf8");

test("codes are typed, the one that is wrong is named, and the rest is sorted into causes and what follows", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Runs rough, lamps on the dash", BRIGG);
  await page.goto(`/jobs/${id}/codes`);
  await expect(page.getByText("Scan every module")).toBeVisible();
  await expect(page.getByRole("button", { name: "Codes were cleared" })).toBeDisabled();
  const text = page.getByRole("textbox", { name: /What the scan tool shows/ });
  await text.fill("P0642 active ECM\nP0107-16 active ECM\nP0522 active ECM\nP03O1 stored ECM\nP0118 stored ECM\nTCM silent");
  await expect(page.getByText("Line 4, character 4: “O”")).toBeVisible();
  await page.getByRole("button", { name: "Keep 4 codes and 1 silent" }).click();
  // What could not be read stays to be put right.
  await expect(text).toHaveValue("P03O1 stored ECM");
  const row = (code: string) => page.getByRole("row", { name: new RegExp(`^ECM ${code}`) });
  await expect(row("P0107-16")).toContainText("consequence");
  await expect(row("P0107-16")).toContainText("voltage too low");
  await expect(row("P0522")).toContainText("hangs on the reference that P0642 complains of");
  await expect(row("P0118")).toContainText("history");
  await expect(page.getByText("Start with: TCM")).toBeVisible();
  await page.reload();
  await expect(row("P0642")).toContainText("cause");
  // Cleared once they are written down; what comes back is hard.
  await page.getByRole("button", { name: "Codes were cleared" }).click();
  await text.fill("P0642 active ECM");
  await page.getByRole("button", { name: "Keep 1 code", exact: true }).click();
  await expect(row("P0642")).toContainText("back at once");
  await expect(row("P0107-16")).toContainText("not back");
});

test("a scan comes in as a file and goes out again; a broken one says where", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Scan from another tool");
  await page.goto(`/jobs/${id}/codes`);
  const file = page.getByLabel("Scan file");
  await file.setInputFiles({
    name: "scan.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("code,status,module\nU0100,active,BCM\nQ0100,active,BCM\n"),
  });
  await expect(page.getByText("Line 3, character 1: “Q”")).toBeVisible();
  await expect(page.getByRole("row").filter({ hasText: "U0100" })).toContainText("lost word of a module");
  const saving = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save as CSV" }).click();
  expect((await saving).suggestedFilename()).toMatch(/^scan-.*\.csv$/);
});

test("the complaint takes what it comes with, and warns of a misread VIN without refusing it", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Cuts out on bumps");
  await page.goto(`/jobs/${id}/complaint`);
  await page.getByRole("textbox", { name: "VIN" }).fill("1111O111111111111");
  await expect(page.getByText(/in place 5 is not used in a VIN/)).toBeVisible();
  await page.getByRole("button", { name: "on bumps" }).click();
  await expect(page.getByText(/More likely: rubbed wires/)).toBeVisible();
  await page.getByRole("textbox", { name: "Already replaced, no change" }).fill("FAN, R2");
  await page.getByRole("button", { name: "Save changes" }).click();
  await expect(page).toHaveURL(/circuit/);
  const last = await lastOf<{ circumstances?: unknown[]; vin?: string }>(page, id, "complaint-changed");
  expect(last.circumstances).toEqual([
    { kind: "condition", what: "vibration" },
    { kind: "replaced", part: "FAN" },
    { kind: "replaced", part: "R2" },
  ]);
  expect(last.vin).toBe("1111O111111111111");
});
