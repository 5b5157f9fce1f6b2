import { Router, type Request } from "express";
import { z } from "zod";
import { vehicleId, type SavedHarness, type VehicleList } from "@rheonom/contract/light";
import { AppError } from "../errors.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { Store } from "../store/store.ts";
import { sendJson } from "./jobs.ts";
import { bytesOf, readQuery } from "./validate.ts";

const paperQuery = z.object({
  /** With commas between; all of the vehicle's options when left out. */
  options: z.string().max(2000).optional(),
  half: z.enum(["a", "b"]).default("a").catch("a"),
  look: z.enum(["wire", "mating"]).default("wire").catch("wire"),
  key: z.string().max(40).optional(),
  engine: z.string().max(40).optional(),
  on: z.string().max(40).optional(),
});

/** Vehicles and the versions of their wiring; their maps and faces on paper. */
export function vehicleRoutes(store: Store, heavy: Heavy, now: () => Date): Router {
  const router = Router();
  router.get("/vehicles", async (_request, response) => {
    const list: VehicleList = { vehicles: await store.listVehicles() };
    response.json(list);
  });
  router.get("/vehicles/:id", async (request, response) => void response.json(await store.vehicleVersions(readVehicleId(request))));
  router.get("/vehicles/:id/versions/:version", async (request, response) => {
    const [id, version] = [readVehicleId(request), readVersion(request)];
    const harness = Buffer.from(await store.readHarness(id, version));
    sendJson(
      response,
      Buffer.concat([Buffer.from(`{"id":${JSON.stringify(id)},"version":${version},"harness":`), harness, Buffer.from("}")]),
    );
  });
  router.post("/vehicles/:id/versions", async (request, response) => {
    const id = readVehicleId(request);
    const row = await heavy.run("importHarness", Uint8Array.from(bytesOf(request)));
    const saved: SavedHarness = { id, version: await store.addHarness(id, { ...row, at: now() }) };
    response.status(201).json(saved);
  });
  router.get("/vehicles/:id/versions/:version/grounds.pdf", async (request, response) => {
    const { options } = readQuery(paperQuery, request);
    const harness = await store.readHarness(readVehicleId(request), readVersion(request));
    const pdf = await heavy.run("groundsPdf", harness, optionsOf(options), now().toISOString());
    response.type("application/pdf").send(Buffer.from(pdf));
  });
  router.get("/vehicles/:id/versions/:version/faces/:connector.pdf", async (request, response) => {
    const { options, half, look, key, engine, on } = readQuery(paperQuery, request);
    const harness = await store.readHarness(readVehicleId(request), readVersion(request));
    const connector = String(request.params.connector).slice(0, 60);
    const ask = { connector, half, look: look === "mating" ? "mating side" : "wire side", key, engine, switchesOn: on !== "none" } as const;
    const pdf = await heavy.run("facePdf", harness, optionsOf(options), ask, now().toISOString());
    response.type("application/pdf").send(Buffer.from(pdf));
  });
  return router;
}

const optionsOf = (text: string | undefined): readonly string[] | undefined => text?.split(",").filter(Boolean);

function readVehicleId(request: Request): string {
  const id = String(request.params.id);
  if (!vehicleId.safeParse(id).success) throw new AppError("vehicle-id-invalid", { id: id.slice(0, 60) });
  return id;
}

function readVersion(request: Request): number {
  const text = String(request.params.version);
  if (!/^[1-9]\d{0,8}$/.test(text))
    throw new AppError("version-not-found", { id: String(request.params.id).slice(0, 60), version: text.slice(0, 20) });
  return Number(text);
}
