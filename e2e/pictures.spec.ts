import { expect, test, type Page } from "@playwright/test";
import { createRequire } from "node:module";
import type Sharp from "sharp";
import { openJob, workAs } from "./pages.ts";

const sharp = createRequire(import.meta.url)("sharp") as typeof Sharp;
const LAMP = `circuit "One lamp"
BAT -- W1 -- F1(10A) -- W2 -- C4.1 -- W3 -- LA(lamp 21W "stop lamp")
LA -- W4 -- G1
G1 -- W5 -- BAT`;
const photo = async (background: string, width = 800, height = 600): Promise<{ name: string; mimeType: string; buffer: Buffer }> => ({
  name: `${background}.jpg`,
  mimeType: "image/jpeg",
  buffer: await sharp({ create: { width, height, channels: 3, background } })
    .jpeg()
    .toBuffer(),
});
const kept = (page: Page) => page.getByRole("list", { name: "Pictures of this job" }).locator('img[src^="/api/pictures"]');

/** Pictures that this device has kept by itself. */
const keptHere = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((done) => {
        const opening = indexedDB.open("rheonom");
        opening.onsuccess = () => {
          const count = opening.result.transaction("pictures").objectStore("pictures").count();
          count.onsuccess = () => {
            opening.result.close();
            done(count.result);
          };
        };
      }),
  );

test("pictures before and after are taken without a server, sent when it answers, marked, and stand in the report", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "Stop lamp is dead", LAMP);
  await page.goto(`/jobs/${id}/mend`);
  const panel = page.getByRole("region", { name: "Pictures" });
  await panel.getByLabel("Shows").fill("C4.1");
  // Nobody answers: it is shown, kept on this device, and outlives a reload.
  await page.route("**/api/pictures", (route) => route.abort());
  await panel.getByLabel("Picture files").setInputFiles(await photo("green"));
  await expect(panel.getByAltText("On its way: C4.1")).toBeVisible();
  // It is shown at once, and kept a moment later.
  await expect.poll(() => keptHere(page)).toBe(1);
  await page.reload();
  await expect(panel.getByAltText("On its way: C4.1")).toBeVisible();
  await page.unroute("**/api/pictures");
  await expect(kept(page)).toHaveCount(1);
  await expect(panel.getByRole("listitem")).toContainText("Before, C4.1");

  // What is no picture is refused beside its name, and the next one is taken all the same.
  await panel.getByLabel("Shows").fill("C4.1");
  await panel.getByText("After", { exact: true }).click();
  await panel
    .getByLabel("Picture files")
    .setInputFiles([{ name: "bill.jpg", mimeType: "image/jpeg", buffer: Buffer.from("%PDF-1.7 nothing") }, await photo("gold")]);
  await expect(panel.getByRole("alert")).toContainText("bill.jpg was not taken");
  await expect(panel.getByRole("alert")).toContainText("PDF");
  await expect(kept(page)).toHaveCount(2);
  await panel.getByRole("button", { name: "Read" }).click();
  await expect(panel.getByRole("alert")).toHaveCount(0);

  // Too large for the way to the server: told at once, and not sent.
  await panel.getByLabel("Picture files").setInputFiles({ name: "wall.jpg", mimeType: "image/jpeg", buffer: Buffer.alloc(41e6, 0xff) });
  await expect(panel.getByRole("alert")).toContainText("wall.jpg was not taken. It has 41 MB; 40 MB are taken at most.");
  await panel.getByRole("button", { name: "Read" }).click();

  // By keyboard only: an arrow, moved and taken off; a circle; words. The layer stays editable.
  await panel.getByRole("button", { name: "Mark the picture: Before, C4.1" }).focus();
  await page.keyboard.press("Enter");
  const sheet = page.getByRole("dialog");
  const marks = sheet.getByRole("application");
  await expect(marks).toHaveAccessibleName(/^Marks, 0/);
  await marks.focus();
  for (const key of ["Enter", "ArrowLeft", "+"]) await page.keyboard.press(key);
  await expect(marks).toHaveAccessibleName(/^Marks, 1/);
  await page.keyboard.press("Delete");
  await expect(marks).toHaveAccessibleName(/^Marks, 0/);
  await sheet.getByText("Circle", { exact: true }).click();
  await sheet.getByRole("button", { name: "Add in the middle" }).click();
  await sheet.getByText("Words", { exact: true }).click();
  await sheet.getByLabel("Words", { exact: true }).last().fill("green copper");
  await sheet.getByRole("button", { name: "Add in the middle" }).click();
  await sheet.getByRole("button", { name: "Keep marks" }).click();
  await expect(panel.getByAltText("green copper")).toBeVisible();
  await panel.getByRole("button", { name: "Mark", exact: true }).first().click();
  await expect(marks).toHaveAccessibleName(/^Marks, 2/);
  await page.keyboard.press("Escape");

  await page.goto(`/jobs/${id}/record`);
  const shown = page.getByRole("heading", { name: "Pictures" }).locator("..").getByRole("listitem");
  await expect(shown).toHaveCount(2);
  const [before, after] = [(await shown.nth(0).boundingBox())!, (await shown.nth(1).boundingBox())!];
  expect(Math.abs(before.y - after.y)).toBeLessThan(2);
  expect(after.x).toBeGreaterThan(before.x + before.width);
});
