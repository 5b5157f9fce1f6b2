import { expect, test, type Page } from "@playwright/test";
import { openJob, workAs } from "./pages.ts";

const WIRE_HEADS = "id,from,to,colour,area_mm2,length_m\n";

/** Tables of a made-up vehicle of so many lamps, five wires to each. */
function lampTables(lamps: number): { name: string; mimeType: string; buffer: Buffer }[] {
  let [components, fuses, wires] = ["id,kind,rating\nBAT,battery,12.6V\n", "id,amps\n", `${WIRE_HEADS}W1,G0,BAT.-,BK,50,1\n`];
  let n = 1;
  const wire = (from: string, to: string): void => void (wires += `W${++n},${from},${to},RD/BK,1.5,0.5\n`);
  for (let i = 1; i <= lamps; i++) {
    components += `LP${i},lamp,5W\n`;
    fuses += `F${i},10\n`;
    wire("BAT.+", `F${i}.1`);
    wire(`F${i}.2`, `C${i}.1a`);
    wire(`C${i}.1b`, `S${i}`);
    wire(`S${i}`, `LP${i}.1`);
    wire(`LP${i}.2`, `G${i}`);
  }
  const file = (name: string, text: string) => ({ name, mimeType: "text/csv", buffer: Buffer.from(text) });
  return [file("components.csv", components), file("fuses.csv", fuses), file("wires.csv", wires)];
}

const choose = (page: Page, files: { name: string; mimeType: string; buffer: Buffer }[]): Promise<void> =>
  page.getByLabel("Files with wiring").setInputFiles(files);

test.beforeEach(async ({ page }) => {
  await workAs(page, "Ansa Tollan");
});

test("from a symptom to the slice, its cavity on the face, and back to what shares the ground", async ({ page }) => {
  await page.goto("/vehicles");
  await page.getByRole("link", { name: "Selwick Plover 2.0 D" }).click();
  await page.getByLabel("Find a part, wire, code or symptom").fill("stop light left");
  await page.keyboard.press("Enter");
  await expect(page.locator('[data-hit="link:L13"]')).toBeVisible();
  await page.locator('[data-hit="link:C30.2"]').first().click();
  await expect(page.getByRole("region", { name: "Selected" })).toContainText("cavity 2");
  // An option that this van has not got is in no drawing, unless its ghost is asked for.
  await page.getByLabel("Find a part, wire, code or symptom").fill("cold body compressor");
  await expect(page.getByText("Nothing of this vehicle is called that")).toBeVisible();
  await page.getByRole("button", { name: "ghosts" }).click();
  await page.getByLabel("Find a part, wire, code or symptom").fill("cold body compressor");
  // The whole wiring stands behind the search only after the address has changed.
  await expect(page.getByRole("list", { name: "Found" })).toContainText("CMP");
  await page.getByLabel("Find a part, wire, code or symptom").press("Enter");
  await expect(page.locator('[data-hit="link:CMP.winding"], [data-hit="place:CMP.1"]').first()).toBeVisible();
  // A code is sliced by what stands at the other end of its pin.
  await page.goto("/vehicles/plover/circuit?of=P0193");
  await expect(page.getByRole("button", { name: /^RPS\.W/ })).toBeVisible();
  await page.getByRole("link", { name: "Common points" }).click();
  for (const id of ["L10", "L13", "L15"]) await page.getByRole("button", { name: `${id} fails` }).click();
  for (const id of ["L11", "L14"]) await page.getByRole("button", { name: `${id} works` }).click();
  await expect(page.getByRole("row").nth(1)).toContainText("splice S32");
  await page.getByRole("link", { name: "Connectors" }).click();
  await page.getByRole("radio", { name: "mating side" }).click({ force: true });
  await expect(page.getByText("Seen from the mating side, half a")).toBeVisible();
});

test("a form gives a circuit to trace in a few keys, and opens again with its answers", async ({ page }) => {
  const job = await openJob(page, "pump dead");
  await page.goto(`/jobs/${job}/circuit`);
  await page.getByRole("button", { name: "From a form" }).click();
  await page.getByRole("button", { name: /Kind of circuit/ }).click();
  await page.getByRole("option", { name: "Relay circuit" }).click();
  await page.getByLabel("What it is").fill("Bilge pump");
  await page.getByLabel("Current of the load, A").fill("much");
  await expect(page.getByText("is not a number")).toBeVisible();
  await page.getByLabel("Current of the load, A").fill("11");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Relay: Bilge pump" })).toBeVisible();
  await page.getByRole("button", { name: "Form", exact: true }).click();
  await expect(page.getByLabel("What it is")).toHaveValue("Bilge pump");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /Save and trace/ }).click();
  await expect(page.getByRole("region", { name: "Staircase" })).toBeVisible();
});

test("a job is pinned to a version; what is found different goes into the next one, and the job moves when it is told to", async ({
  page,
}) => {
  const job = await openJob(page, "horn is dead");
  await page.goto(`/jobs/${job}/circuit`);
  await page.getByRole("button", { name: "From a vehicle" }).click();
  await page
    .getByRole("button", { name: /Vehicle/ })
    .last()
    .click();
  await page.getByRole("option", { name: "Bench rig: horn and relay" }).click();
  await page.getByRole("button", { name: "Use version 1" }).click();
  await page.getByRole("button", { name: /Save and trace/ }).click();
  await page.getByRole("region", { name: "Circuit" }).locator('[data-hit="link:W5"]').click();
  await page.getByRole("button", { name: "Differs from diagram" }).click();
  await page.getByLabel("Found", { exact: true }).fill("OG");
  await page.keyboard.press("Enter");
  await page.goto(`/jobs/${job}/circuit`);
  await page.getByRole("button", { name: "Into the wiring of rig-horn" }).click();
  await expect(page.getByLabel("Differences")).toContainText("wire W5: colour RD → OG");
  await page.getByRole("button", { name: "Save as version 2" }).click();
  await expect(page.getByText("in the wiring since version 2")).toBeVisible();
  await page.getByRole("button", { name: "Version 2 is out" }).click();
  await expect(page.getByLabel("Differences")).toContainText("OG");
  await page.getByRole("button", { name: "Move to version 2" }).click();
  await page.getByRole("button", { name: /Save and trace/ }).click();
  await page.reload();
  await page.goto(`/jobs/${job}/circuit`);
  await expect(page.getByText("version 2", { exact: false }).first()).toBeVisible();
});

test("tables with faults change nothing and say where; mended ones show what they change first", async ({ page }) => {
  await page.goto("/vehicles/new");
  const bad = lampTables(2).map((f) =>
    f.name === "wires.csv" ? { ...f, buffer: Buffer.from(f.buffer.toString().replace("W3,F1.2", "W2,F1.2").replace("LP2.1", "LQ2.1")) } : f,
  );
  await choose(page, bad);
  await expect(page.getByText("nothing was taken in")).toBeVisible();
  await expect(page.getByRole("row", { name: /wires\.csv 4 id There are two wires W2/ })).toBeVisible();
  await expect(page.getByRole("row", { name: /wires\.csv 11 to LQ2 stands in no table/ })).toBeVisible();
  await choose(page, [{ name: "wires.csv", mimeType: "text/csv", buffer: Buffer.alloc(50_000_000, 120) }]);
  await expect(page.getByText("This file has 50 MB")).toBeVisible();
  await choose(page, [{ name: "photo.csv", mimeType: "text/csv", buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0xff]) }]);
  await expect(page.getByText("This is not text")).toBeVisible();
  const hostile = lampTables(2).map((f) =>
    f.name === "components.csv"
      ? {
          ...f,
          buffer: Buffer.from(
            f.buffer
              .toString()
              .replace("rating\n", "rating,label\n")
              .replace("LP1,lamp,5W", 'LP1,lamp,5W,"<img src=x onerror=window.hit=1><svg onload=window.hit=1>"'),
          ),
        }
      : f,
  );
  await choose(page, hostile);
  await page.getByLabel("Short name in addresses").fill(`lamps-${Date.now()}`);
  await page.getByRole("button", { name: "Keep this vehicle" }).click();
  await page.getByLabel("Find a part, wire, code or symptom").fill("onerror");
  await page.keyboard.press("Enter");
  await expect(page.locator('[data-hit="link:LP1"]')).toBeVisible();
  expect(await page.evaluate(() => (window as unknown as { hit?: number }).hit)).toBe(undefined);
  await page.getByRole("link", { name: "Import and export" }).click();
  await choose(page, lampTables(3));
  await expect(page.getByText(/\d+ new, \d+ changed/)).toBeVisible();
  await page.getByRole("button", { name: "Save as version 2" }).click();
  await expect(page.getByText("version 2").first()).toBeVisible();
});

test("ten thousand wires come in from tables", async ({ page }) => {
  await page.goto("/vehicles/new");
  await choose(page, lampTables(2000));
  await expect(page.getByText("10001 wires")).toBeVisible();
  await page.getByLabel("Short name in addresses").fill(`large-${Date.now()}`);
  await page.getByRole("button", { name: "Keep this vehicle" }).click();
  await expect(page.getByLabel("Find a part, wire, code or symptom")).toBeVisible();
  await page.getByLabel("Find a part, wire, code or symptom").fill("LP777");
  await page.keyboard.press("Enter");
  await expect(page.locator('[data-hit="link:LP777"]')).toBeVisible();
});

test("an unknown plug is told from readings, and becomes a circuit", async ({ page }) => {
  await page.goto("/plug");
  const put = (pin: string, moment: string, text: string): Promise<void> => page.getByLabel(`Pin ${pin}, ${moment}`).fill(text);
  await put("1", "key on", "5.01");
  await put("2", "key on", "0.02");
  await put("3", "key on", "4.9");
  await expect(page.getByText("Not yet sure")).toBeVisible();
  await put("3", "engine turning", "t");
  await put("1", "key off", "zero");
  await expect(page.getByText("A framed cell cannot be read")).toBeVisible();
  await put("1", "key off", "0");
  await expect(page.getByText(/Most likely a switching speed or position sensor/)).toBeVisible();
  await page.getByLabel("Call it").fill("crankshaft sensor");
  await page.getByRole("button", { name: "Create circuit" }).click();
  await expect(page.getByRole("button", { name: "Keep this vehicle" })).toBeVisible();
});

test("a problem of the wiring offers its mending, and the text takes it", async ({ page }) => {
  const job = await openJob(page, "fan dead");
  await page.goto(`/jobs/${job}/circuit`);
  await page.getByRole("textbox", { name: "Circuit text" }).click();
  await page.keyboard.insertText(
    "BAT -- RD 4mm2 1m -- F1(20A) -- RD 2.5mm2 1m -- FAN(motor 12A) -- BK 2.5mm2 1m -- G2(on frame)\nG1 -- BK 25mm2 0.5m -- BAT",
  );
  await expect(page.getByText("nothing joins the frame to BAT.-")).toBeVisible();
  await page.getByRole("button", { name: /Add ground G3 on the frame/ }).click();
  await expect(page.getByText(/^No problem in|^Usable/)).toBeVisible();
  await page.getByRole("button", { name: /Save and trace/ }).click();
  await expect(page.getByRole("region", { name: "Staircase" })).toBeVisible();
});

test("on a narrow tablet the search stands above the drawing, and the drawing fits", async ({ page }) => {
  await page.setViewportSize({ width: 820, height: 1100 });
  await page.goto("/vehicles/gritter/circuit?of=V1");
  const find = page.getByLabel("Find a part, wire, code or symptom");
  const drawn = page.locator('[data-hit="link:V1"]');
  await expect(drawn).toBeVisible();
  expect((await find.boundingBox())!.y).toBeLessThan((await drawn.boundingBox())!.y);
  expect(await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBeLessThanOrEqual(0);
  // Keys: search, find, walk through the drawing.
  await page.locator("body").press("/");
  await page.keyboard.type("beacon left");
  await page.keyboard.press("Enter");
  await expect(page.locator('[data-hit="link:BE1"]')).toBeVisible();
  await expect(page).toHaveURL(/of=BE1/);
});
