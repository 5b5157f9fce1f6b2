import { expect, test } from "@playwright/test";
import { finish, followCard, Hands, MOST_INTERACTIONS } from "./by-the-card.ts";
import { circuitText, workAs } from "./pages.ts";

test("an open lamp feed on the van, from a phone call to the closed job", async ({ page }) => {
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
  await hands.do(page.getByRole("button", { name: "L13 stop light, left: dead" }).click());
  await hands.do(page.getByRole("link", { name: "Start tracing" }).click());
  await followCard(page, hands, [{ kind: "open", link: "C30.2" }]);
  await expect(page.getByRole("region", { name: "Next test" })).toContainText("C30.2");
  await finish(page, hands, "", []);
  test.info().annotations.push({ type: "interactions", description: `${hands.interactions}, ${hands.readings} readings` });
  expect(hands.interactions).toBeLessThanOrEqual(MOST_INTERACTIONS);
});

test("a weak pump on a circuit that is typed, from its words to the closed job", async ({ page }) => {
  const hands = new Hands();
  await workAs(page, "Ansa Tollan");
  await page.goto("/");
  // A key that is pressed before there is a board goes nowhere.
  await expect(page.getByRole("heading", { name: "Board" })).toBeVisible();
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
  expect(hands.interactions).toBeLessThanOrEqual(MOST_INTERACTIONS);
});

const PUMP = `circuit "Bilge pump with a relay"
BAT(12.6V) -- W1 RD 6mm2 1m -- F1(20A) -- W2 RD/BU 2.5mm2 1m -- R1(relay).30
R1.87 -- W3 BU 2.5mm2 3m -- PMP(motor 8A "bilge pump") -- W4 BK 2.5mm2 0.5m -- G2
F1 -- W5 RD/WH 1mm2 1m -- SW1(switch "pump switch") -- W6 WH 1mm2 2m -- R1.86
R1.85 -- W7 BK 1mm2 0.5m -- G2
G1 -- W8 BK 25mm2 0.5m -- BAT`;
