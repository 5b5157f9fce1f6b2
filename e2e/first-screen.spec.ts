import { expect, test } from "@playwright/test";

/** What may cross the network before the board can be used, bytes. */
const MOST_BYTES = 250_000;

test("the board is there after few bytes, and asks for the very rows that came along with the page", async ({ page }) => {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send("Network.enable");
  const paths = new Map<string, string>();
  const rows = new Set<string>();
  let bytes = 0;
  cdp.on("Network.responseReceived", ({ requestId, response }) => {
    const { pathname, search } = new URL(response.url);
    paths.set(requestId, pathname);
    if (pathname === "/api/jobs") rows.add(pathname + search);
  });
  cdp.on("Network.loadingFinished", ({ encodedDataLength }) => (bytes += encodedDataLength));
  // Fetched ahead some moments later; on a slow machine that could be before the rows.
  await page.route(/overlays/, () => undefined);
  const answer = await page.goto("/");
  await page.locator("tbody tr").first().waitFor();
  const asked = [...paths.values()];
  expect([...rows]).toEqual([/^<(.*)>; rel=preload/.exec(answer?.headers().link ?? "")?.[1]]);
  expect(asked.some((path) => /elk|worker|job-screens/.test(path))).toBe(false);
  // All scripts of the first screen are in it: a chain of imports ends before the rows are drawn.
  expect(asked.filter((path) => path.endsWith(".js")).length).toBeGreaterThan(2);
  expect(bytes).toBeGreaterThan(50_000);
  expect(bytes).toBeLessThan(MOST_BYTES);
});

test("what is typed right after the palette's key goes into it, also while it is still being fetched", async ({ page }) => {
  let release = (): void => undefined;
  const held = new Promise<void>((done) => (release = done));
  await page.route(/overlays/, async (route) => {
    await held;
    await route.continue();
  });
  await page.goto("/");
  await page.locator("tbody tr").first().waitFor();
  await page.keyboard.press("Control+k");
  await page.keyboard.type("unknown pl");
  release();
  const find = page.getByRole("searchbox", { name: "Find a command, a screen or a job" });
  await expect(find).toHaveValue("unknown pl");
  await page.keyboard.type("ug");
  await expect(find).toHaveValue("unknown plug");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/plug$/);
});
