import { randomUUID } from "node:crypto";
import { existsSync } from "node:fs";
import { join } from "node:path";
import { KNOWN_GOODS_PATH } from "@rheonom/contract/shelf";
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from "express";
import staticGzip from "express-static-gzip";
import helmet from "helmet";
import type { Logger } from "pino";
import { FIRST_PAGE, jobListPath, type Health } from "@rheonom/contract/light";
import { PICTURE_TYPES, TRACE_TYPE } from "@rheonom/contract/shop";
import { readDemoCircuits } from "../demo/seed.ts";
import { turnAway, type Door } from "../doors/caller.ts";
import { AppError, problemOf } from "../errors.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { Store } from "../store/store.ts";
import { beginningRoutes } from "./beginnings.ts";
import { practiceRoutes } from "./practice.ts";
import { shelfRoutes } from "./shelf.ts";
import { bundleRoutes } from "./bundles.ts";
import { calendarRoutes } from "./calendar.ts";
import { jobRoutes } from "./jobs.ts";
import type { MediaStore } from "../media/media-store.ts";
import { openApiDocument } from "./openapi.ts";
import { pictureBody, pictureRoutes } from "./pictures.ts";
import { reportRoutes } from "./reports.ts";
import { shopRoutes } from "./shop.ts";
import { traceBody, traceRoutes } from "./traces.ts";
import { vehicleRoutes } from "./vehicles.ts";

/** Largest body taken. A posting of 200 events with a full circuit text each would be split by the client. */
const BODY_LIMIT = "1mb";
/** A vehicle of 10,000 wires as JSON has some 2 MB. */
const HARNESS_LIMIT = "12mb";
/** A job with its papers and pictures as one file. */
const BUNDLE_LIMIT = "96mb";

export interface AppParts {
  readonly store: Store;
  readonly heavy: Heavy;
  readonly media: MediaStore;
  readonly door: Door;
  readonly root: string;
  readonly version: string;
  readonly log: Logger;
  readonly now: () => Date;
}

/** Where the shelf goes out and in as a file. */
const SHELF_FILE = `/api/${KNOWN_GOODS_PATH}/file.zip`;

/** The HTTP application: API under /api, the built web application for everything else. */
export function createApp(parts: AppParts): Express {
  const { store, heavy, media, door, log, now } = parts;
  const app = express();
  app.disable("x-powered-by");
  app.set("query parser", "simple");
  // An answer of the API is never asked for again with its tag, and tagging a long log takes milliseconds.
  app.set("etag", false);
  app.use(whoMayAsk(door));
  app.use(refuseMalformedAddress);
  app.use("/api", plainHeaders);
  app.use(["/api/bundles", SHELF_FILE], express.raw({ type: "application/zip", limit: BUNDLE_LIMIT, inflate: false }));
  app.use("/api", refuseOtherBodies);
  app.use("/api/pictures", pictureBody);
  app.use("/api/traces", traceBody);
  app.use("/api/vehicles", express.raw({ type: "application/json", limit: HARNESS_LIMIT, inflate: false }));
  app.use("/api", express.raw({ type: "application/json", limit: BODY_LIMIT, inflate: false }));
  app.get("/api/health", (_request, response) => {
    const body: Health = { ok: true, version: parts.version, pid: process.pid, data: store.mode(), openToNetwork: door.openToNetwork };
    response.json(body);
  });
  const description = openApiDocument(parts.version);
  app.get("/api/openapi.json", (_request, response) => void response.json(description));
  const circuits = readDemoCircuits(parts.root);
  app.get("/api/demo-circuits", (_request, response) => void response.json(circuits));
  app.use(
    "/api",
    reportRoutes(store, heavy, media, now),
    jobRoutes(store, heavy, now),
    pictureRoutes(media),
    traceRoutes(media),
    shopRoutes(store, media, now),
    calendarRoutes(store, now),
    vehicleRoutes(store, heavy, now),
    bundleRoutes(store, heavy, media, now),
    shelfRoutes(store, heavy, media, now),
    beginningRoutes(store, parts.root, now),
    practiceRoutes(store, heavy, parts.root, now),
  );
  const nowhere: RequestHandler = (request) => {
    throw new AppError("not-found", { path: request.originalUrl.slice(0, 100) });
  };
  app.use("/api", nowhere);

  const web = join(parts.root, "apps/web/dist");
  if (existsSync(web)) {
    app.use(
      helmet({
        contentSecurityPolicy: {
          directives: {
            "default-src": ["'self'"],
            "style-src": ["'self'", "'unsafe-inline'"],
            "img-src": ["'self'", "data:", "blob:"],
            "upgrade-insecure-requests": null,
          },
        },
        strictTransportSecurity: false,
      }),
    );
    const packed = { enableBrotli: true, orderPreference: ["br", "gz"], index: false };
    app.use("/assets", staticGzip(join(web, "assets"), { ...packed, serveStatic: { immutable: true, maxAge: "1y", fallthrough: false } }));
    app.use(staticGzip(web, packed));
    app.get("/{*path}", (request, response) => {
      // The board's rows come along with its program, not after it.
      if (request.originalUrl === "/") response.setHeader("Link", `</api/${jobListPath(FIRST_PAGE)}>; rel=preload; as=fetch; crossorigin`);
      response.sendFile(join(web, "index.html"), { headers: { "Cache-Control": "no-cache" } });
    });
  }
  app.use(nowhere);
  app.use(answerError(log));
  return app;
}

/** Host and origin, before anything of the request is read. */
const whoMayAsk =
  (door: Door): RequestHandler =>
  (request, _response, next) => {
    const turned = turnAway(request.headers, request.method === "GET" && !request.path.startsWith("/api"), door);
    if (turned === undefined) return next();
    throw new AppError(turned === "host" ? "host-unknown" : "foreign-page");
  };

/** What is no address to any handler, before one of them answers it in its own way. */
const refuseMalformedAddress: RequestHandler = (request, _response, next) => {
  try {
    decodeURIComponent(request.path);
  } catch {
    throw new AppError("request-malformed", { why: "its address is malformed" });
  }
  next();
};

/** Answers of the API are data: nothing in them runs, and no other site's page takes them in. Pages get the full set from helmet. */
const plainHeaders: RequestHandler = (_request, response, next) => {
  response.setHeader("X-Content-Type-Options", "nosniff");
  response.setHeader("Content-Security-Policy", "default-src 'none'; frame-ancestors 'none'");
  response.setHeader("Cross-Origin-Resource-Policy", "same-origin");
  response.setHeader("Cache-Control", "no-store");
  next();
};

/** What is sent otherwise than as JSON, by the address below /api. */
const BODY_TYPES: Readonly<Record<string, readonly string[]>> = {
  "/bundles": ["application/zip"],
  [SHELF_FILE.slice("/api".length)]: ["application/zip"],
  "/pictures": PICTURE_TYPES,
  "/traces": [TRACE_TYPE],
};

/** Only JSON by its own content type, as it is: a form or plain text can be sent by any web page, JSON cannot without asking. */
const refuseOtherBodies: RequestHandler = (request, _response, next) => {
  const types = BODY_TYPES[request.path] ?? ["application/json"];
  if (request.method === "POST" && request.is([...types]) === false) throw new AppError("body-type", { type: types.join(", ") });
  next();
};

/** Every failure leaves as a Problem; what the table does not know is logged under an id and told without detail. */
function answerError(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error);
    const known = error instanceof AppError ? error : bodyError(error);
    if (known !== undefined) {
      const { status, body } = problemOf(known);
      response.status(status).json(body);
      return;
    }
    const id = randomUUID().slice(0, 8);
    log.error({ err: error, id, method: request.method, url: request.originalUrl.slice(0, 200) }, "request failed");
    const { status, body } = problemOf(new AppError("internal", { id }));
    response.status(status).json(body);
  };
}

/** Failures of the parser of bodies and of the router, which carry a status of 400 to 499: nothing is wrong here, but with what was sent. */
function bodyError(error: unknown): AppError | undefined {
  if (typeof error !== "object" || error === null || !("status" in error)) return undefined;
  const status = Number(error.status);
  if (!(status >= 400 && status < 500)) return undefined;
  const why = error instanceof Error ? error.message.slice(0, 120) : "";
  const type = "type" in error ? error.type : "";
  if (type === "entity.too.large")
    return new AppError("body-too-large", { limit: "limit" in error ? `${Math.round(Number(error.limit) / 1e6)} MB` : BODY_LIMIT });
  if (type === "encoding.unsupported")
    return new AppError("body-encoded", { encoding: "encoding" in error ? String(error.encoding).slice(0, 40) : "a content encoding" });
  return status === 404 ? new AppError("not-found", { path: "this address" }) : new AppError("request-malformed", { why });
}
