import { spawn, type ChildProcess } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { HEATER, handSwitch, keptOnDevice, openJob, reading, redLead, takeReading, workAs } from "./pages.ts";

/** A server of this test's own, to be killed. */
class Server {
  #child: ChildProcess | undefined;
  readonly #folder = mkdtempSync(join(tmpdir(), "rheonom-kill-"));
  port = 0;

  async start(): Promise<void> {
    const child = spawn(process.execPath, ["apps/server/dist/main.mjs"], {
      cwd: join(import.meta.dirname, ".."),
      env: { ...process.env, PORT: String(this.port), HOST: "127.0.0.1", RHEONOM_DATA: this.#folder, RHEONOM_DEMO: "0" },
    });
    this.#child = child;
    this.port = await new Promise<number>((resolve, reject) => {
      let said = "";
      child.stdout.on("data", (chunk: Buffer) => {
        said += chunk.toString("utf8");
        const port = /127\.0\.0\.1:(\d+)/.exec(said)?.[1];
        if (port !== undefined) resolve(Number(port));
      });
      child.once("exit", (code) => reject(new Error(`server ended with ${code}: ${said}`)));
    });
  }

  async kill(): Promise<void> {
    const child = this.#child;
    if (child === undefined || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once("exit", resolve));
    child.kill("SIGKILL");
    await gone;
  }

  async remove(): Promise<void> {
    await this.kill();
    rmSync(this.#folder, { recursive: true, force: true });
  }
}

const server = new Server();
test.beforeAll(() => server.start());
test.afterAll(() => server.remove());

test("a server killed between readings costs nothing: work goes on, and all of it arrives", async ({ browser }) => {
  // The server starts anew in it each time it was killed; a loaded machine takes over a minute.
  const context = await browser.newContext({ baseURL: `http://127.0.0.1:${server.port}` });
  const page = await context.newPage();
  await workAs(page, "Inga Torsvik");
  const id = await openJob(page, "killed in the middle", HEATER);
  await page.goto(`/jobs/${id}/trace`);
  await handSwitch(page, "SW3").click();
  await page.keyboard.press("Escape");
  await redLead(page).focus();
  await takeReading(page, "BAT.+", "12.51");
  await expect(page.getByRole("tab", { name: "Readings 1" })).toBeVisible();
  // It counts here before the server has it; what is killed with it on its way would wait as a third entry.
  await expect.poll(() => keptOnDevice(page)).toBe(0);
  await server.kill();
  await takeReading(page, "HTR.1", "10.43");
  await takeReading(page, "HTR.2", "94 mV");
  await expect(page.getByText(/2 entries are kept on this device/)).toBeVisible();
  await expect(page.getByLabel("Verdict")).toContainText("2.08 V dropped");
  // The same server again: what waited is sent by itself.
  await server.start();
  await expect(page.getByText(/kept on this device/)).toHaveCount(0);
  const log = (await (await page.request.get(`/api/jobs/${id}`)).json()) as { events: { type: string; data: { text?: string } }[] };
  expect(log.events.filter((e) => e.type === "reading-taken").map((e) => e.data.text)).toEqual(["12.51 V", "10.43 V", "94 mV"]);
  // Killed again, with an entry waiting and half a reading typed: the tab is closed and opened anew.
  await server.kill();
  await takeReading(page, "C5.2a", "12.10");
  await page.keyboard.type("C5.2b");
  await page.keyboard.press("Enter");
  await page.keyboard.type("10.5");
  await page.close();
  await server.start();
  const again = await context.newPage();
  await again.goto(`/jobs/${id}/trace`);
  await expect(again.getByRole("tab", { name: "Readings 4" })).toBeVisible();
  await expect(redLead(again)).toHaveValue("C5.2b");
  await expect(reading(again)).toHaveValue("10.5");
  await expect(handSwitch(again, "SW3")).toHaveAttribute("aria-pressed", "true");
  await expect
    .poll(async () => ((await (await again.request.get(`/api/jobs/${id}`)).json()) as { events: unknown[] }).events.length)
    .toBe(6);
  await context.close();
});
