import { createServer, type Server } from "node:http";
import { expect, test, type Page } from "@playwright/test";
import { HEATER, handSwitch, keptOnDevice, openJob, redLead, takeReading, uuid7, workAs } from "./pages.ts";

test("what one device enters stands on the other's open screens, told and not asked for", async ({ browser, baseURL }) => {
  const [bay, desk] = await Promise.all([browser.newContext(), browser.newContext()]);
  const [first, second, board] = [await bay.newPage(), await desk.newPage(), await desk.newPage()];
  await workAs(first, "Inga Torsvik");
  await workAs(second, "Pell Anderby");
  const words = `two devices at once ${Date.now()}`;
  const id = await openJob(first, words, HEATER);
  await board.goto(`${baseURL}/?find=${encodeURIComponent(words)}`);
  await expect(board.getByRole("row", { name: /two devices/ })).toContainText("Trace");
  for (const page of [first, second]) await page.goto(`${baseURL}/jobs/${id}/trace`);
  await handSwitch(first, "SW3").click();
  await expect(second.getByRole("tab", { name: "Readings 0" })).toBeVisible();
  await first.keyboard.press("Escape");
  await redLead(first).focus();
  await takeReading(first, "HTR.1", "10.43");
  await expect(second.getByRole("tab", { name: "Readings 1" })).toBeVisible({ timeout: 5000 });
  // And back, while the first goes on: both see one log in one order.
  await second.request.post(`/api/jobs/${id}/events`, {
    data: {
      events: [
        {
          id: uuid7(),
          jobId: id,
          at: new Date().toISOString(),
          by: "Pell Anderby",
          type: "temporary-made",
          data: { kind: "pulled", at: "F7", to: "", note: "" },
        },
      ],
    },
  });
  await expect(first.getByRole("button", { name: /Temporary changes 1/ })).toBeVisible({ timeout: 5000 });
  await expect(board.getByRole("row", { name: /two devices/ })).toContainText("1");
  const order = (page: Page): Promise<string[]> => page.getByRole("row").allTextContents();
  for (const page of [first, second]) await page.getByRole("tab", { name: /^Log/ }).click();
  await expect.poll(() => order(first)).toEqual(await order(second));
  await Promise.all([bay.close(), desk.close()]);
});

test.describe("a page of another site", () => {
  let site: Server;
  let port = 0;
  test.beforeAll(async () => {
    site = createServer((_request, response) =>
      response.setHeader("content-type", "text/html").end("<!doctype html><title>elsewhere</title>"),
    );
    await new Promise<void>((done) => site.listen(0, "127.0.0.1", done));
    const address = site.address();
    port = typeof address === "object" && address !== null ? address.port : 0;
  });
  test.afterAll(() => new Promise((done) => site.close(() => done(undefined))));

  for (const host of ["127.0.0.1", "localhost"])
    test(`on ${host} reads nothing, writes nothing, opens no socket and stops nothing`, async ({ page, baseURL, request }) => {
      const before = (await (await request.get("/api/health")).json()) as { pid: number };
      const total = async (): Promise<number> => ((await (await request.get("/api/jobs?search=forged")).json()) as { total: number }).total;
      await page.goto(`http://${host}:${port}/`);
      const tried = await page.evaluate(async (base) => {
        const ws = base.replace("http", "ws");
        const socket = (path: string): Promise<string> =>
          new Promise((done) => {
            try {
              const s = new WebSocket(ws + path);
              s.onopen = () => done("open");
              s.onerror = () => done("refused");
            } catch {
              done("refused");
            }
          });
        const read = async (path: string, init: RequestInit = {}): Promise<string> => {
          try {
            const answer = await fetch(base + path, init);
            return answer.type === "opaque" ? "sent, unread" : `read ${answer.status}`;
          } catch {
            return "refused";
          }
        };
        const forged = JSON.stringify({ type: "job-opened", data: { vehicle: "forged", words: "forged" } });
        const picture = await new Promise<string>((done) => {
          const image = new Image();
          image.onload = () => done("shown");
          image.onerror = () => done("refused");
          image.src = `${base}/mark.svg`;
        });
        const frame = document.createElement("iframe");
        frame.src = `${base}/`;
        document.body.append(frame);
        return {
          sockets: await Promise.all(["//", "/api/feed", "/api/jobs/0190a1b2-c3d4-7e5f-8a9b-000000000000/link"].map(socket)),
          reads: await Promise.all([read("/api/jobs"), read("/api/health")]),
          posts: await Promise.all([
            read("/api/jobs", { method: "POST", body: forged, headers: { "content-type": "application/json" } }),
            read("/api/jobs", { method: "POST", body: forged, mode: "no-cors" }),
          ]),
          picture,
        };
      }, baseURL!);
      expect(tried.sockets).toEqual(["refused", "refused", "refused"]);
      expect(tried.reads).toEqual(["refused", "refused"]);
      expect(tried.posts[0]).toBe("refused");
      expect(tried.picture).toBe("refused");
      expect(await total()).toBe(0);
      expect((await (await request.get("/api/health")).json()) as { pid: number }).toMatchObject({ pid: before.pid });
    });
});

test("an entry that the server chokes on is set aside with the reason; later ones and other jobs go on", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "one bad entry", HEATER);
  // A server with a fault that only this entry meets.
  await page.route("**/api/jobs/*/events", async (route) => {
    if (route.request().postData()?.includes("10.99") !== true) return route.continue();
    await route.fulfill({
      status: 500,
      contentType: "application/json",
      body: JSON.stringify({ code: "internal", message: "The server failed on this.", issues: [] }),
    });
  });
  await page.goto(`/jobs/${id}/trace`);
  await redLead(page).focus();
  await takeReading(page, "BAT.+", "10.99");
  await takeReading(page, "HTR.1", "10.43");
  const notice = page.getByRole("alert").filter({ hasText: "An entry was set aside" });
  await expect(notice).toContainText("10.99");
  await expect(notice).toContainText("The server failed on this.");
  await expect
    .poll(async () => ((await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: unknown[] }).events.length)
    .toBe(3);
  // It outlives a reload, since nobody has read it out of the way; then it is tried again and arrives.
  expect(await keptOnDevice(page)).toBe(1);
  await page.reload();
  await expect(notice).toContainText("10.99");
  await page.unroute("**/api/jobs/*/events");
  await notice.getByRole("button", { name: "Send again" }).click();
  await expect(notice).toHaveCount(0);
  await expect.poll(() => keptOnDevice(page)).toBe(0);
  await expect
    .poll(async () => ((await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: unknown[] }).events.length)
    .toBe(4);
});

test("a pasted NUL is left out and holds nothing back", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "pasted bytes", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await page.getByRole("tab", { name: "Readings 0" }).waitFor();
  await page.keyboard.press("Escape");
  await page.locator("body").press("t");
  await page.getByRole("textbox", { name: "Where" }).fill("F7");
  await page.getByRole("textbox", { name: "Note" }).fill("before\u0000after");
  await page.getByRole("textbox", { name: "Note" }).press("Enter");
  const notes = async (): Promise<unknown[]> => {
    const { events } = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: { data: { note?: string } }[] };
    return events.map((e) => e.data.note);
  };
  await expect.poll(notes).toContain("beforeafter");
  await expect.poll(() => keptOnDevice(page)).toBe(0);
});

test("a device without room says so, keeps the entry on the page, and sends it", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "no room", HEATER);
  await page.addInitScript(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException("full", "QuotaExceededError");
    };
  });
  await page.goto(`/jobs/${id}/trace`);
  await page.route("**/api/jobs/*/events", (route) => route.abort());
  await redLead(page).focus();
  await takeReading(page, "BAT.+", "12.51");
  await expect(page.getByRole("alert").filter({ hasText: "This device has no room" })).toContainText("1 entry is on this page only");
  await expect(page.getByText(/kept on this device/)).toHaveCount(0);
  await page.unroute("**/api/jobs/*/events");
  await expect(page.getByRole("alert").filter({ hasText: "This device has no room" })).toHaveCount(0);
  await expect
    .poll(async () => ((await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: unknown[] }).events.length)
    .toBe(3);
});

test("a board of many pages: paged, searched, filtered, and linked to", async ({ page }) => {
  await workAs(page, "Inga Torsvik");
  // In letters: a time in digits may itself hold the 31 that is searched for.
  const mark = `page-${String(Date.now()).replace(/\d/g, (d) => "abcdefghij"[Number(d)] ?? d)}`;
  for (let i = 0; i < 57; i++) await openJob(page, `${mark} number ${i}`);
  await page.goto(`/?find=${mark}`);
  await expect(page.getByText("1–25 of 57")).toBeVisible();
  await page.getByRole("button", { name: "Next", exact: true }).click();
  await expect(page.getByText("26–50 of 57")).toBeVisible();
  await page.getByRole("button", { name: "Next", exact: true }).click();
  await expect(page.getByText("51–57 of 57")).toBeVisible();
  await expect(page.locator("tbody tr")).toHaveCount(7);
  await page.reload();
  await expect(page.getByText("51–57 of 57")).toBeVisible();
  await page.getByRole("textbox", { name: "Find" }).fill(`${mark} 31`);
  await expect(page.locator("tbody tr")).toHaveCount(1);
  await expect(page).toHaveURL(/find=/);
  await page.getByText(/^Closed 0/).click();
  await expect(page.getByText("No job matches")).toBeVisible();
  await page.getByRole("button", { name: "Show all jobs" }).click();
  await expect(page.locator("tbody tr").nth(5)).toBeVisible();
});
