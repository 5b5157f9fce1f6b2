import { debrief, debriefProgress, drill, learning, practiceClass, practiceMenu, practising } from "@rheonom/contract/practice";
import { createDocument, type ZodOpenApiOperationObject, type ZodOpenApiPathsObject } from "zod-openapi";
import { z } from "zod";
import {
  appendEvents,
  benchKept,
  capture,
  captureProgress,
  event,
  jobLog,
  saveHarness,
  simulate,
  simulateLook,
  versionedHarness,
} from "@rheonom/contract/api";
import {
  appended,
  begun,
  bundleTaken,
  earlierJobs,
  earlierQuery,
  demoCircuits,
  health,
  jobList,
  jobQuery,
  savedHarness,
  looked,
  simulated,
  vehicleId,
  vehicleList,
  vehicleVersions,
} from "@rheonom/contract/light";
import {
  dueList,
  dueQuery,
  keptPicture,
  keptTrace,
  oldCustomers,
  PICTURE_TYPES,
  removeCustomers,
  removedCustomers,
  shopSettings,
  similarCases,
  TRACE_TYPE,
} from "@rheonom/contract/shop";
import { problem } from "@rheonom/contract/problem";
import { knownGoodList, knownGoodMeta, knownGoodQuery, knownGoodUsers, shelfTaken, withdrawKnownGood } from "@rheonom/contract/shelf";
import { chainedLogSchema, pictureHash, reportSchema, uuid7 } from "@rheonom/core/job";

const json = (schema: z.ZodType): { content: { "application/json": { schema: z.ZodType } } } => ({
  content: { "application/json": { schema } },
});
const failures = (...codes: readonly number[]): ZodOpenApiOperationObject["responses"] =>
  Object.fromEntries(codes.map((c) => [c, { description: "What went wrong", ...json(problem) }]));
const pdf = { content: { "application/pdf": { schema: { type: "string" as const, format: "binary" } } } };
const jpeg = { content: { "image/jpeg": { schema: { type: "string" as const, format: "binary" } } } };
const picturePathParams = { path: z.object({ hash: pictureHash }) };
const jobPath = { path: z.object({ id: uuid7 }) };
const report = reportSchema.meta({ id: "Report" });

/** A paper of a job as PDF and as one HTML file. `operation`: ends the names of both. */
const paperPaths = (name: string, operation: string, what: string, ...refused: readonly number[]): ZodOpenApiPathsObject => {
  const failed = failures(400, 404, ...refused);
  const html = { content: { "text/html": { schema: { type: "string" as const } } } };
  return {
    [`/api/jobs/{id}/${name}.pdf`]: {
      get: {
        operationId: `print${operation}`,
        requestParams: jobPath,
        responses: { 200: { description: `${what} as PDF`, ...pdf }, ...failed },
      },
    },
    [`/api/jobs/{id}/${name}.html`]: {
      get: {
        operationId: `page${operation}`,
        requestParams: jobPath,
        responses: { 200: { description: `${what} as one HTML file`, ...html }, ...failed },
      },
    },
  };
};

const paths: ZodOpenApiPathsObject = {
  "/api/health": { get: { operationId: "health", responses: { 200: { description: "The server is up", ...json(health) } } } },
  "/api/jobs": {
    get: {
      operationId: "listJobs",
      requestParams: { query: jobQuery },
      responses: { 200: { description: "A page of the board, with counts", ...json(jobList) }, ...failures(400) },
    },
    post: {
      operationId: "openJob",
      description: "Opens a job with its job-opened event. Posting it again changes nothing.",
      requestBody: json(event),
      responses: {
        200: { description: "Already there", ...json(appended) },
        201: { description: "Opened", ...json(appended) },
        ...failures(400, 409, 413, 503, 507),
      },
    },
  },
  "/api/earlier-jobs": {
    get: {
      operationId: "listEarlierJobs",
      requestParams: { query: earlierQuery },
      responses: { 200: { description: "Jobs of vehicles whose plate or VIN begins so", ...json(earlierJobs) }, ...failures(400) },
    },
  },
  "/api/dates.ics": {
    get: {
      operationId: "listDates",
      description: "Days that open jobs wait for, and on which somebody should ask whether a fault came back, as a calendar (RFC 5545).",
      responses: { 200: { description: "The calendar", content: { "text/calendar": { schema: { type: "string" } } } } },
    },
  },
  "/api/jobs/{id}": {
    get: {
      operationId: "readJob",
      requestParams: { ...jobPath, query: z.object({ after: z.number().int().optional() }) },
      responses: { 200: { description: "The log", ...json(jobLog) }, ...failures(400, 404) },
    },
  },
  "/api/jobs/{id}/events": {
    post: {
      operationId: "appendEvents",
      description: "Appends events, all or none. Ids are UUIDs of version 7 made by the client; an event posted twice is stored once.",
      requestParams: jobPath,
      requestBody: json(appendEvents),
      responses: {
        200: { description: "All were there already", ...json(appended) },
        201: { description: "Stored", ...json(appended) },
        ...failures(400, 404, 409, 413, 503, 507),
      },
    },
  },
  "/api/jobs/{id}/bench": {
    put: {
      operationId: "keepBench",
      description:
        "Keeps the state of the vehicle, the load in question and the next test, in place of what was kept. No entry of the log.",
      requestParams: jobPath,
      requestBody: json(benchKept),
      responses: { 204: { description: "Kept" }, ...failures(400, 404, 413, 503, 507) },
    },
  },
  "/api/jobs/{id}/simulated-reading": {
    post: {
      operationId: "simulateReading",
      description: "Takes a reading on the simulated vehicle behind a demo job. Stores nothing.",
      requestParams: jobPath,
      requestBody: json(simulate),
      responses: { 200: { description: "What the meter shows", ...json(simulated) }, ...failures(400, 404, 409, 503) },
    },
  },
  "/api/jobs/{id}/simulated-look": {
    post: {
      operationId: "simulateLook",
      description: "What eyes, ears and hands find at the simulated vehicle behind a demo job. Stores nothing.",
      requestParams: jobPath,
      requestBody: json(simulateLook),
      responses: { 200: { description: "What is found", ...json(looked) }, ...failures(400, 404, 409, 503) },
    },
  },
  "/api/jobs/{id}/simulated-capture": {
    post: {
      operationId: "simulateCapture",
      description: "Records the simulated vehicle behind a demo job with a scope. Stores nothing; ends when the caller leaves.",
      requestParams: jobPath,
      requestBody: json(capture),
      responses: {
        200: { description: "The trace, packed", content: { [TRACE_TYPE]: { schema: { type: "string" as const, format: "binary" } } } },
        ...failures(400, 404, 409, 503),
      },
    },
  },
  "/api/jobs/{id}/debrief": {
    get: {
      operationId: "readDebrief",
      description:
        "What a closed job on a simulated vehicle comes to: what was wrong, and each step beside the belief of the engine. Refused while the job is open.",
      requestParams: jobPath,
      responses: { 200: { description: "The debrief", ...json(debrief) }, ...failures(400, 404, 409, 503) },
    },
  },
  "/api/jobs/{id}/debrief/progress": {
    get: {
      operationId: "readDebriefProgress",
      description: "How much of a debrief is worked out that somebody asked for; 0 where none is being worked out.",
      requestParams: jobPath,
      responses: { 200: { description: "The share", ...json(debriefProgress) }, ...failures(400) },
    },
  },
  "/api/jobs/{id}/simulated-capture/{as}": {
    get: {
      operationId: "readCaptureProgress",
      description: "How much is worked out of the recording that was asked for with this name (`?as=`); 0 for none.",
      requestParams: { path: jobPath.path.extend({ as: z.uuid() }) },
      responses: { 200: { description: "The share", ...json(captureProgress) }, ...failures(400) },
    },
  },
  "/api/jobs/{id}/report.json": {
    get: {
      operationId: "readReport",
      requestParams: jobPath,
      responses: { 200: { description: "The record as open data", ...json(report) }, ...failures(400, 404) },
    },
  },
  "/api/jobs/{id}/readings.csv": {
    get: {
      operationId: "readReadings",
      requestParams: jobPath,
      responses: {
        200: { description: "The readings as a table", content: { "text/csv": { schema: { type: "string" } } } },
        ...failures(400, 404),
      },
    },
  },
  "/api/pictures": {
    post: {
      operationId: "keepPicture",
      description:
        "Takes in a picture as JPEG, PNG or WebP. It is turned upright, scaled to 2,000 px at most and rid of what the camera wrote into it; the same picture is stored once. What is said of it is an entry of a job.",
      requestBody: {
        content: Object.fromEntries(PICTURE_TYPES.map((t) => [t, { schema: { type: "string" as const, format: "binary" } }])),
      },
      responses: { 201: { description: "Stored", ...json(keptPicture) }, ...failures(413, 415, 422, 503, 507) },
    },
  },
  "/api/pictures/{hash}": {
    get: {
      operationId: "readPicture",
      requestParams: picturePathParams,
      responses: { 200: { description: "The picture", ...jpeg }, ...failures(404) },
    },
  },
  "/api/pictures/{hash}/thumbnail": {
    get: {
      operationId: "readThumbnail",
      requestParams: picturePathParams,
      responses: { 200: { description: "A small one, 360 px", ...jpeg }, ...failures(404) },
    },
  },
  "/api/traces": {
    post: {
      operationId: "keepTrace",
      description:
        "Takes in a recording of a scope or logger, packed as docs/formats/trace.md says. What is said of it is an entry of a job.",
      requestBody: { content: { [TRACE_TYPE]: { schema: { type: "string" as const, format: "binary" } } } },
      responses: { 201: { description: "Stored", ...json(keptTrace) }, ...failures(413, 415, 422, 503, 507) },
    },
  },
  "/api/traces/{hash}": {
    get: {
      operationId: "readTrace",
      requestParams: picturePathParams,
      responses: {
        200: { description: "The trace, packed", content: { [TRACE_TYPE]: { schema: { type: "string" as const, format: "binary" } } } },
        ...failures(404),
      },
    },
  },
  "/api/jobs/{id}/similar": {
    get: {
      operationId: "listSimilarCases",
      requestParams: jobPath,
      responses: {
        200: { description: "The closed jobs that are most like it, three at most", ...json(similarCases) },
        ...failures(400, 404),
      },
    },
  },
  "/api/due": {
    get: {
      operationId: "listDue",
      requestParams: { query: dueQuery },
      responses: { 200: { description: "What is due at a minute of the shop's clock", ...json(dueList) }, ...failures(400) },
    },
  },
  "/api/shop": {
    get: { operationId: "readShop", responses: { 200: { description: "The shop's settings", ...json(shopSettings) } } },
    put: {
      operationId: "keepShop",
      requestBody: json(shopSettings),
      responses: { 200: { description: "Stored", ...json(shopSettings) }, ...failures(400, 413, 503) },
    },
  },
  "/api/shop/old-customers": {
    get: {
      operationId: "countOldCustomers",
      responses: { 200: { description: "Closed jobs that are older than the shop keeps customers", ...json(oldCustomers) } },
    },
  },
  "/api/shop/old-customers/remove": {
    post: {
      operationId: "removeOldCustomers",
      description:
        "Takes plate, VIN and whoever answered an estimate out of them, and their pictures where that is wanted. It cannot be undone.",
      requestBody: json(removeCustomers),
      responses: { 200: { description: "What was changed", ...json(removedCustomers) }, ...failures(400, 413, 503) },
    },
  },
  "/api/jobs/{id}/log.json": {
    get: {
      operationId: "readChainedLog",
      description: "All entries that were ever stored of a job, each chained to the one before it by SHA-256.",
      requestParams: jobPath,
      responses: { 200: { description: "The log", ...json(chainedLogSchema) }, ...failures(400, 404) },
    },
  },
  "/api/jobs/{id}/bundle.zip": {
    get: {
      operationId: "writeBundle",
      description: "The job as one file: log with its chain, report, papers, circuit, schemas and a manifest with hashes.",
      requestParams: jobPath,
      responses: {
        200: { description: "The bundle", content: { "application/zip": { schema: { type: "string", format: "binary" } } } },
        ...failures(400, 404, 503),
      },
    },
  },
  "/api/known-goods": {
    get: {
      operationId: "listKnownGoods",
      description: "What good vehicles showed: of one family, at one place (“volts C5.3 BAT.-”, “amps W2”). Withdrawn ones too.",
      requestParams: { query: knownGoodQuery },
      responses: { 200: { description: "The shelf", ...json(knownGoodList) }, ...failures(400) },
    },
    post: {
      operationId: "putKnownGood",
      requestBody: json(knownGoodMeta),
      responses: {
        200: { description: "Already there", ...json(knownGoodMeta) },
        201: { description: "Put there", ...json(knownGoodMeta) },
        ...failures(400, 404, 409, 413, 503, 507),
      },
    },
  },
  "/api/known-goods/file.zip": {
    get: {
      operationId: "exportKnownGoods",
      requestParams: { query: z.object({ vehicle: z.string().max(48).optional() }) },
      responses: {
        200: {
          description: "List, schema and recordings",
          content: { "application/zip": { schema: { type: "string", format: "binary" } } },
        },
        ...failures(400),
      },
    },
    post: {
      operationId: "importKnownGoods",
      description: "Takes in another shop's shelf. All of it or none; what it has withdrawn is withdrawn here too.",
      requestBody: { content: { "application/zip": { schema: { type: "string", format: "binary" } } } },
      responses: { 200: { description: "Taken in", ...json(shelfTaken) }, ...failures(400, 409, 413, 415, 422, 503, 507) },
    },
  },
  "/api/known-goods/{id}/withdraw": {
    post: {
      operationId: "withdrawKnownGood",
      requestParams: jobPath,
      requestBody: json(withdrawKnownGood),
      responses: { 200: { description: "Withdrawn", ...json(knownGoodMeta) }, ...failures(400, 404, 503) },
    },
  },
  "/api/known-goods/{id}/users": {
    get: {
      operationId: "listKnownGoodUsers",
      requestParams: jobPath,
      responses: { 200: { description: "Jobs that held something against it", ...json(knownGoodUsers) }, ...failures(404) },
    },
  },
  "/api/bundles": {
    post: {
      operationId: "takeBundle",
      description: "Takes in a bundle of another shop. All of its log or none; doing it twice is doing it once.",
      requestBody: { content: { "application/zip": { schema: { type: "string", format: "binary" } } } },
      responses: {
        201: { description: "Taken in", ...json(bundleTaken) },
        200: { description: "All of it was here", ...json(bundleTaken) },
        ...failures(400, 409, 413, 415, 503, 507),
      },
    },
  },
  ...paperPaths("report", "Report", "The record"),
  ...paperPaths("customer", "CustomerPage", "One page for the customer"),
  ...paperPaths("estimate", "Estimate", "The estimate", 409),
  "/api/vehicles": {
    get: { operationId: "listVehicles", responses: { 200: { description: "Vehicles with their latest version", ...json(vehicleList) } } },
  },
  "/api/vehicles/{id}": {
    get: {
      operationId: "readVehicle",
      requestParams: { path: z.object({ id: vehicleId }) },
      responses: { 200: { description: "Its versions, latest first", ...json(vehicleVersions) }, ...failures(400, 404) },
    },
  },
  "/api/vehicles/{id}/versions": {
    post: {
      operationId: "saveHarness",
      description: "Adds a version of the wiring. Versions are never changed; one that was made from an older than the latest is refused.",
      requestParams: { path: z.object({ id: vehicleId }) },
      requestBody: json(saveHarness),
      responses: { 201: { description: "Stored", ...json(savedHarness) }, ...failures(400, 404, 409, 413, 503, 507) },
    },
  },
  "/api/vehicles/{id}/versions/{version}": {
    get: {
      operationId: "readHarness",
      requestParams: { path: z.object({ id: vehicleId, version: z.coerce.number().int().min(1) }) },
      responses: { 200: { description: "The wiring", ...json(versionedHarness) }, ...failures(400, 404) },
    },
  },
  "/api/vehicles/{id}/versions/{version}/grounds.pdf": {
    get: {
      operationId: "printGrounds",
      requestParams: {
        path: z.object({ id: vehicleId, version: z.coerce.number().int().min(1) }),
        query: z.object({ options: z.string().optional() }),
      },
      responses: { 200: { description: "The ground map on paper", ...pdf }, ...failures(400, 404) },
    },
  },
  "/api/vehicles/{id}/versions/{version}/faces/{connector}.pdf": {
    get: {
      operationId: "printFace",
      requestParams: {
        path: z.object({ id: vehicleId, version: z.coerce.number().int().min(1), connector: z.string() }),
        query: z.object({
          options: z.string().optional(),
          half: z.enum(["a", "b"]).optional(),
          look: z.enum(["wire", "mating"]).optional(),
          key: z.string().optional(),
          engine: z.string().optional(),
          on: z.literal("none").optional(),
        }),
      },
      responses: { 200: { description: "The connector's face on paper", ...pdf }, ...failures(400, 404) },
    },
  },
  "/api/practice": {
    get: {
      operationId: "practiceMenu",
      description: "Vehicles, families of faults and ready scenarios that can be practised.",
      responses: { 200: { description: "What can be practised", ...json(practiceMenu) } },
    },
    post: {
      operationId: "practise",
      description:
        "Opens a job with a fault that is drawn by chance or chosen by family, difficulty and seed; a simulated vehicle answers for it. What is wrong stays on the server.",
      requestBody: json(practising),
      responses: { 201: { description: "Opened", ...json(begun) }, ...failures(400, 404, 409, 503, 507) },
    },
  },
  "/api/practice/drill": {
    get: {
      operationId: "readDrill",
      description: "A question of a minute with its answer, made from a circuit; the same of the same seed.",
      requestParams: { query: z.object({ seed: z.coerce.number().int() }) },
      responses: { 200: { description: "A question", ...json(drill) }, ...failures(400, 409) },
    },
  },
  "/api/practice/class": {
    get: {
      operationId: "readClass",
      description: "Open practice jobs, and what came of those that were debriefed.",
      responses: { 200: { description: "Who is at what", ...json(practiceClass) } },
    },
  },
  "/api/practice/results.csv": {
    get: {
      operationId: "downloadPracticeResults",
      description: "What came of practice jobs, as a table.",
      responses: { 200: { description: "A row per job", content: { "text/csv": { schema: z.string() } } } },
    },
  },
  "/api/practice/learning": {
    get: {
      operationId: "readLearning",
      description: "What somebody's practice jobs came to, skill by skill, and what comes next.",
      requestParams: { query: z.object({ by: z.string() }) },
      responses: { 200: { description: "Where they stand", ...json(learning) }, ...failures(400) },
    },
  },
  "/api/samples/finished": {
    post: {
      operationId: "showFinished",
      description: "Puts a finished demo job into the shop, once.",
      requestBody: json(z.strictObject({})),
      responses: { 201: { description: "In the shop", ...json(begun) }, ...failures(503, 507) },
    },
  },
  "/api/demo-circuits": {
    get: { operationId: "listDemoCircuits", responses: { 200: { description: "Circuits to start from", ...json(demoCircuits) } } },
  },
};

/** The API's description, made from the schemas that the server validates with. */
export function openApiDocument(version: string): ReturnType<typeof createDocument> {
  return createDocument({
    openapi: "3.1.0",
    info: { title: "Rheonom", version, description: "Jobs, their append-only logs and their records." },
    paths,
  });
}
