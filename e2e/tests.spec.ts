import { expect, test } from "@playwright/test";
import { choose, handSwitch, HEATER, lastOf, openJob, reading, redLead, workAs } from "./pages.ts";

test("walks through a test of the trade: state, leads, reading, and the step that is too tall", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Heater lukewarm", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await page.getByRole("tab", { name: "Procedures" }).click();
  await page.getByRole("button", { name: "Voltage-drop walk: HTR" }).click();
  const steps = page.getByRole("list", { name: "Steps of Voltage-drop walk" });
  const next = steps.locator('li[data-status="next"]');
  await expect(next).toContainText("across HTR");
  // What a bad second wire shows, in the order of the steps.
  const shows: readonly (readonly [RegExp, string])[] = [
    [/across HTR/, "9.90"],
    [/black on its feed pin/, "2.41"],
    [/black on the negative post/, "0.05"],
    [/Across W2/, "2.20"],
    [/Across/, "0.02"],
  ];
  const verdict = page.getByText(/The step that is too tall: W2/);
  for (let i = 0; i < 8 && (await verdict.count()) === 0; i++) {
    const words = (await next.textContent()) ?? "";
    const state = next.getByRole("button", { name: /^Vehicle set: / });
    if ((await state.count()) > 0) await state.click();
    await next.getByRole("button", { name: "Use these leads" }).click();
    await expect(reading(page)).toBeFocused();
    await page.keyboard.type(shows.find(([words_]) => words_.test(words))![1]);
    await page.keyboard.press("Enter");
    await expect(next).not.toHaveText(words);
  }
  await expect(verdict).toBeVisible();
  await expect(steps.getByLabel("bad").first()).toBeVisible();
  // The address holds what is open, and the log what was read.
  await page.reload();
  await expect(verdict).toBeVisible();
  // Ohms are offered too, with why they do not decide.
  await page.getByText("ohms with the power off").click();
  await expect(page.getByText(/A good value does not prove/)).toBeVisible();
});

test("watches a reading while things are moved, and suspects what it goes with", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Heater comes and goes", HEATER);
  await page.clock.install();
  await page.goto(`/jobs/${id}/trace`);
  await handSwitch(page, "SW3").click();
  await page.getByRole("region", { name: "Suspects" }).getByRole("button", { name: "Intermittent" }).click();
  await redLead(page).fill("HTR.1");
  await page.getByRole("tab", { name: "Wiggle test" }).click();
  await page.getByRole("button", { name: "Start logging" }).click();
  const meter = page.getByRole("textbox", { name: "Meter shows" });
  const note = async (text: string): Promise<void> => {
    await meter.fill(text);
    await meter.press("Enter");
  };
  await note("twelve");
  await expect(page.getByText(/is not a reading/)).toBeVisible();
  for (const v of ["12.0", "12.01", "12.0"]) await note(v);
  await page.getByRole("button", { name: "wire W3", exact: true }).click();
  // A spot that was moved for so long without anything happening counts as steady.
  await page.clock.fastForward(2100);
  await note("12.0");
  await page.getByRole("button", { name: "C5", exact: true }).click();
  await note("7.2");
  await note("12.0");
  await page.getByRole("button", { name: "Stop and save" }).click();
  const left = page.getByRole("region", { name: "Suspects" });
  await expect(left.getByRole("list", { name: "Suspects" }).getByRole("listitem").first()).toContainText("C5");
  await page.reload();
  await page.getByRole("tab", { name: "Wiggle test" }).click();
  await page.getByText(/HTR.1 against BAT.-, \d+ s/).click();
  await expect(page.getByRole("list", { name: "What moved it" })).toContainText(/C5: left the steady range once, by up to -4.8\d V/);
  await expect(page.getByRole("list", { name: "What moved it" })).toContainText("W3: steady");
});

test("asks whether the trouble is there once it comes and goes, and keeps that with the reading", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Heater now and then", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await handSwitch(page, "SW3").click();
  const left = page.getByRole("region", { name: "Suspects" });
  await left.getByRole("button", { name: "Fault present" }).click();
  await page.getByRole("option", { name: "sometimes" }).click();
  await choose(page, "Fault now", "absent");
  await redLead(page).fill("HTR.1");
  await page.getByRole("textbox", { name: "Reading", exact: true }).fill("12.1");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("tab", { name: "Readings 1" })).toBeVisible();
  expect(await lastOf(page, id, "reading-taken")).toMatchObject({ present: false });
  expect(await lastOf(page, id, "presence-told")).toEqual({ share: 0.3 });
});

test("a meter that beeps is recorded as it was heard: between its leads, with the power off", async ({ page }) => {
  await workAs(page, "Ansa Tollan");
  const id = await openJob(page, "Heater dead", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await page.getByText("Ω", { exact: true }).click();
  // On a feed that is live a beeper says nothing.
  await redLead(page).fill("F7.1");
  await reading(page).fill("beep");
  await reading(page).press("Enter");
  await expect(page.getByText(/ohms on a live circuit prove nothing/)).toBeVisible();
  await redLead(page).fill("HTR.1");
  await page.getByRole("textbox", { name: "Black lead" }).fill("C5.2b");
  await reading(page).fill("no beep");
  await reading(page).press("Enter");
  await expect(redLead(page)).toHaveValue("");
  await page.getByRole("tab", { name: /^Log/ }).click();
  await expect(page.getByText(/continuity HTR\.1 to C5\.2b: silent/)).toBeVisible();
  // A silent wire is a suspect from then on.
  await expect(page.getByRole("region", { name: "Suspects" })).toContainText(/W4/);
});
