import { randomUUID } from "node:crypto";
import { existsSync } from "node:fs";
import { join } from "node:path";
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from "express";
import helmet from "helmet";
import type { Logger } from "pino";
import { pinoHttp } from "pino-http";
import { AppError, problemOf } from "../errors.ts";
import { readDemoCircuits } from "../demo/seed.ts";
import type { JobStore } from "../store/job-store.ts";
import type { VehicleStore } from "../store/vehicle-store.ts";
import { jobRoutes } from "./jobs.ts";
import { openApiDocument } from "./openapi.ts";
import { reportRoutes } from "./reports.ts";
import { vehicleRoutes } from "./vehicles.ts";

/** Largest body taken. A posting of 200 events with a full circuit text each would be split by the client. */
const BODY_LIMIT = "1mb";
/** A vehicle of 10,000 wires as JSON has some 2 MB. */
const HARNESS_LIMIT = "12mb";

export interface AppParts {
  readonly store: JobStore;
  readonly vehicles: VehicleStore;
  readonly root: string;
  readonly version: string;
  readonly log: Logger;
  readonly now: () => Date;
}

/** The HTTP application: API under /api, the built web application for everything else. */
export function createApp(parts: AppParts): Express {
  const app = express();
  app.disable("x-powered-by");
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          "default-src": ["'self'"],
          "style-src": ["'self'", "'unsafe-inline'"],
          "img-src": ["'self'", "data:"],
          "upgrade-insecure-requests": null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(pinoHttp({ logger: parts.log, redact: ["req.headers.cookie", "req.headers.authorization"] }));
  app.use("/api", refuseOtherBodies);
  app.use("/api/vehicles", express.json({ limit: HARNESS_LIMIT, strict: true }));
  app.use("/api", express.json({ limit: BODY_LIMIT, strict: true }));
  app.get("/api/health", (_request, response) => void response.json({ ok: true, version: parts.version, pid: process.pid }));
  const description = openApiDocument(parts.version);
  app.get("/api/openapi.json", (_request, response) => void response.json(description));
  app.get("/api/demo-circuits", (_request, response) => void response.json(readDemoCircuits(parts.root)));
  app.use("/api", reportRoutes(parts.store, parts.now), jobRoutes(parts.store), vehicleRoutes(parts.vehicles, parts.now));
  app.use("/api", (request) => {
    throw new AppError("not-found", { path: request.originalUrl.slice(0, 100) });
  });

  const web = join(parts.root, "apps/web/dist");
  if (existsSync(web)) {
    app.use("/assets", express.static(join(web, "assets"), { immutable: true, maxAge: "1y" }));
    app.use(express.static(web, { index: false }));
    app.get(
      "/{*path}",
      (_request, response) => void response.sendFile(join(web, "index.html"), { headers: { "Cache-Control": "no-cache" } }),
    );
  }
  app.use(answerError(parts.log));
  return app;
}

/** Only JSON by its own content type: a form or plain text can be sent by any web page, JSON cannot without asking. */
const refuseOtherBodies: RequestHandler = (request, _response, next) => {
  if (request.method === "POST" && request.is("application/json") === false) throw new AppError("body-type");
  next();
};

/** Every failure leaves as a Problem; what the table does not know is logged under an id and told without detail. */
function answerError(log: Logger): ErrorRequestHandler {
  return (error: unknown, _request, response, next) => {
    if (response.headersSent) return next(error);
    const known = error instanceof AppError ? error : bodyError(error);
    if (known !== undefined) {
      const { status, body } = problemOf(known);
      response.status(status).json(body);
      return;
    }
    const id = randomUUID().slice(0, 8);
    log.error({ err: error, id }, "request failed");
    const { status, body } = problemOf(new AppError("internal", { id }));
    response.status(status).json(body);
  };
}

/** The body parser's own errors, by their documented `type`. */
function bodyError(error: unknown): AppError | undefined {
  if (typeof error !== "object" || error === null || !("type" in error)) return undefined;
  const why = error instanceof Error ? error.message.slice(0, 120) : "";
  if (error.type === "entity.parse.failed") return new AppError("body-not-json", { why });
  if (error.type === "entity.too.large")
    return new AppError("body-too-large", {
      limit: error instanceof Error && "limit" in error ? `${Math.round(Number(error.limit) / 1e6)} MB` : BODY_LIMIT,
    });
  if (error.type === "encoding.unsupported" || error.type === "charset.unsupported" || error.type === "request.aborted")
    return new AppError("body-not-json", { why });
  return undefined;
}
