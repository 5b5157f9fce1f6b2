import { Router, type Request } from "express";
import { saveHarness, vehicleId, type SavedHarness, type VehicleList, type VersionedHarness } from "@rheonom/contract/api";
import { REST_STATE, vehicleState, type VehicleState } from "@rheonom/core/circuit";
import { faceOf, resolveVariant, type Harness } from "@rheonom/core/harness";
import { AppError } from "../errors.ts";
import type { VehicleStore } from "../store/vehicle-store.ts";
import { readBody } from "./validate.ts";

/** Vehicles and the versions of their wiring; their maps and faces on paper. */
export function vehicleRoutes(store: VehicleStore, now: () => Date): Router {
  const router = Router();
  router.get("/vehicles", async (_request, response) => {
    const list: VehicleList = { vehicles: await store.list() };
    response.json(list);
  });
  router.get("/vehicles/:id", async (request, response) => void response.json(await store.versions(readVehicleId(request))));
  router.get("/vehicles/:id/versions/:version", async (request, response) => {
    const [id, version] = [readVehicleId(request), readVersion(request)];
    const body: VersionedHarness = { id, version, harness: await store.read(id, version) };
    response.json(body);
  });
  router.post("/vehicles/:id/versions", async (request, response) => {
    const id = readVehicleId(request);
    const body = readBody(saveHarness, request);
    const saved: SavedHarness = { id, version: await store.add(id, { ...body, at: now() }) };
    response.status(201).json(saved);
  });
  router.get("/vehicles/:id/versions/:version/grounds.pdf", async (request, response) => {
    const harness = await variant(store, request);
    const { printGrounds } = await import("../report/print-vehicle.ts");
    const pdf = await printGrounds(harness, now());
    response.type("application/pdf").send(pdf);
  });
  router.get("/vehicles/:id/versions/:version/faces/:connector.pdf", async (request, response) => {
    const harness = await variant(store, request);
    const half = request.query.half === "b" ? "b" : "a";
    const look = request.query.look === "mating" ? "mating side" : "wire side";
    const connector = String(request.params.connector);
    if (!harness.components.some((c) => c.id === connector && c.kind === "connector"))
      throw new AppError("place-unknown", { why: `There is no connector ${connector.slice(0, 40)}` });
    const { printFace } = await import("../report/print-vehicle.ts");
    // Made before the type is set, so that a failure leaves as a Problem.
    const pdf = await printFace(harness, faceOf(harness, connector, half, look), stateOf(harness, request), now());
    response.type("application/pdf").send(pdf);
  });
  return router;
}

/** The wiring of a version with the options of the query, all of them when it names none. */
async function variant(store: VehicleStore, request: Request): Promise<Harness> {
  const harness = await store.read(readVehicleId(request), readVersion(request));
  const { options } = request.query;
  if (typeof options !== "string")
    return resolveVariant(
      harness,
      (harness.options ?? []).map((o) => o.id),
    );
  return resolveVariant(harness, options.split(",").filter(Boolean));
}

/** The state of the query: key, engine, and every hand switch unless `on` is "none". */
function stateOf(harness: Harness, request: Request): VehicleState {
  const { key = "run", engine = "stopped", on } = request.query;
  const switches = harness.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : []));
  const parsed = vehicleState.safeParse({ ...REST_STATE, key, engine, on: on === "none" ? [] : switches });
  if (!parsed.success)
    throw new AppError(
      "body-invalid",
      {},
      parsed.error.issues.map((i) => ({ path: i.path.join("."), message: i.message })),
    );
  return parsed.data;
}

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
