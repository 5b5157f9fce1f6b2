import { expect, test } from "@playwright/test";

/** What may cross the network before the board can be used, bytes. */
const MOST_BYTES = 250_000;

test("the board is there after few bytes, and asks for the very rows that came along with the page", async ({ page }) => {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send("Network.enable");
  const rows = new Set<string>();
  const pathOf = new Map<string, string>();
  const loaded = new Map<string, number>();
  cdp.on("Network.responseReceived", ({ requestId, response }) => {
    const { pathname, search } = new URL(response.url);
    pathOf.set(requestId, pathname);
    if (pathname === "/api/jobs") rows.add(pathname + search);
  });
  cdp.on("Network.loadingFinished", ({ requestId, encodedDataLength }) => {
    const path = pathOf.get(requestId) ?? "";
    // Rows that come once more are news of a job that another test is working on just then: the board stood without them.
    if (!loaded.has(path)) loaded.set(path, encodedDataLength);
  });
  const answer = await page.goto("/");
  const html = (await answer?.text()) ?? "";
  await page.locator("tbody tr").first().waitFor();
  expect([...rows]).toEqual([/^<(.*)>; rel=preload/.exec(answer?.headers().link ?? "")?.[1]]);
  // What is fetched ahead some moments later is not needed for the board; on a slow machine it may be there before the rows.
  const needed = [...loaded].filter(([path]) => !path.endsWith(".js") || html.includes(path));
  expect(needed.filter(([path]) => path.endsWith(".js")).length).toBeGreaterThan(2);
  const bytes = needed.reduce((sum, [, n]) => sum + n, 0);
  expect(bytes).toBeGreaterThan(50_000);
  expect(bytes, needed.map(([path, n]) => `${path}: ${n}`).join("\n")).toBeLessThan(MOST_BYTES);
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
  await page.keyboard.type("unknown con");
  release();
  const find = page.getByRole("searchbox", { name: "Find a command, a screen or a job" });
  await expect(find).toHaveValue("unknown con");
  await page.keyboard.type("nector");
  await expect(find).toHaveValue("unknown connector");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/plug$/);
});

test("without a server at the moment they are fetched, help and palette come when they are asked for again, and the board stays", async ({
  page,
}) => {
  let tried = 0;
  await page.route(/overlays/, (route) => (tried++ === 0 ? route.abort() : route.continue()));
  await page.goto("/");
  await expect.poll(() => tried).toBe(1);
  await expect(page.locator("tbody tr").first()).toBeVisible();
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Board" })).toBeVisible();
});
