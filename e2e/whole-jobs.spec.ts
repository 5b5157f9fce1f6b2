import { expect, test } from "@playwright/test";
import { closeJob, finish, followCard, Hands, repair } from "./by-the-card.ts";
import { circuitText, workAs } from "./pages.ts";

/** What a whole job may take besides typed readings. */
const MOST = 15;

test("an open lamp feed on the van, from a phone call to the closed job", async ({ page }) => {
  test.setTimeout(240_000);
  const hands = new Hands();
  await workAs(page, "Ansa Tollan");
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "Board" })).toBeVisible();
  await hands.do(page.keyboard.press("c"));
  await expect(page.getByRole("combobox", { name: "Vehicle" })).toBeFocused();
  await hands.do(page.keyboard.type("plover"));
  await page.getByRole("option", { name: "Selwick Plover 2.0 D", exact: true }).waitFor();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await hands.do(page.getByLabel("In the customer’s words").fill("The stop light on the left is dead."));
  await hands.do(page.getByRole("button", { name: "Open the job" }).click());
  await hands.do(page.getByRole("button", { name: "L13 stop light, left: dead" }).click({ timeout: 30_000 }));
  await hands.do(page.getByRole("link", { name: "Start tracing" }).click({ timeout: 30_000 }));
  await followCard(page, hands, [{ kind: "open", link: "C30.2" }]);
  await expect(page.getByRole("region", { name: "Next test" })).toContainText("C30.2");
  await finish(page, hands, "", []);
  test.info().annotations.push({ type: "interactions", description: `${hands.interactions}, ${hands.readings} readings` });
  expect(hands.interactions).toBeLessThanOrEqual(MOST);
});

test("a weak pump on a circuit that is typed, from its words to the closed job", async ({ page }) => {
  test.setTimeout(240_000);
  const hands = new Hands();
  await workAs(page, "Ansa Tollan");
  await page.goto("/");
  await hands.do(page.keyboard.press("c"));
  await hands.do(page.getByRole("combobox", { name: "Vehicle" }).fill("Bench boat pump"));
  await hands.do(page.getByLabel("In the customer’s words").fill("The bilge pump is weak."));
  await hands.do(page.getByRole("button", { name: "Open the job" }).click());
  await hands.do(circuitText(page).fill(PUMP));
  await hands.do(page.keyboard.press("Control+Enter"));
  const suspects = page.getByRole("region", { name: "Suspects" });
  await hands.do(page.getByRole("button", { name: /^Vehicle set/ }).click());
  await hands.do(suspects.getByRole("button", { name: "Weak" }).first().click());
  await followCard(page, hands, [{ kind: "series", link: "G2", ohms: 0.5 }]);
  await expect(page.getByRole("region", { name: "Next test" })).toContainText("G2");
  await finish(page, hands, "Cleaned to bright metal, re-fixed.", []);
  test.info().annotations.push({ type: "interactions", description: `${hands.interactions}, ${hands.readings} readings` });
  expect(hands.interactions).toBeLessThanOrEqual(MOST);
});

const PUMP = `circuit "Bilge pump with a relay"
BAT(12.6V) -- W1 RD 6mm2 1m -- F1(20A) -- W2 RD/BU 2.5mm2 1m -- R1(relay).30
R1.87 -- W3 BU 2.5mm2 3m -- PMP(motor 8A "bilge pump") -- W4 BK 2.5mm2 0.5m -- G2
F1 -- W5 RD/WH 1mm2 1m -- SW1(switch "pump switch") -- W6 WH 1mm2 2m -- R1.86
R1.85 -- W7 BK 1mm2 0.5m -- G2
G1 -- W8 BK 25mm2 0.5m -- BAT`;

test("a lost sensor ground, from codes to the closed job", async ({ page }) => {
  test.setTimeout(240_000);
  const hands = new Hands();
  await workAs(page, "Ansa Tollan");
  await page.goto("/");
  const row = page.getByRole("row", { name: /engine lamp is on/ });
  await hands.do(row.getByRole("link").click());
  await hands.do(page.getByRole("link", { name: "Codes" }).click());
  await hands.do(page.getByRole("button", { name: "Find the simulated vehicle" }).click());
  await hands.do(page.getByRole("button", { name: /^Connect to 0NL/ }).click({ timeout: 30_000 }));
  const simulated = page.getByRole("region", { name: "The simulated vehicle" });
  await hands.do(simulated.getByText("run", { exact: true }).click({ timeout: 30_000 }));
  await expect(simulated.getByRole("status")).toContainText("answering: BCM, CLU, ECM, TCM");
  // Monitors take two seconds to find it.
  await page.waitForTimeout(4000);
  await hands.do(page.getByRole("button", { name: "Scan all 4 modules" }).click());
  await hands.do(page.getByRole("link", { name: /^Trace / }).click({ timeout: 30_000 }));
  await followCard(page, hands, [{ kind: "open", link: "C4.2" }]);
  await expect(page.getByRole("region", { name: "Next test" })).toContainText("C4.2");
  await repair(page, hands, "");
  await hands.do(page.getByRole("link", { name: "Read codes again" }).first().click());
  await expect(page.getByText(/^Connected to 0NL/)).toBeVisible();
  await page.waitForTimeout(4000);
  await hands.do(page.getByRole("button", { name: "Scan all 4 modules" }).click());
  await expect(page.getByRole("row", { name: /^ECM P0118/ })).toContainText("stored", { timeout: 30_000 });
  await hands.do(page.getByRole("link", { name: "Verify" }).click());
  await closeJob(page, hands);
  test.info().annotations.push({ type: "interactions", description: `${hands.interactions}, ${hands.readings} readings` });
  expect(hands.interactions).toBeLessThanOrEqual(MOST);
});
