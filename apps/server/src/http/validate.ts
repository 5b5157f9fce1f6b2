import type { Request } from "express";
import { z } from "zod";
import { JOB_EVENT_TYPES, uuid7 } from "@rheonom/core/job";
import { inShape, MESSAGE_SHAPE, readJson } from "../doors/json.ts";
import { AppError } from "../errors.ts";

/** Faults of a body that are told at most. */
const MOST_ISSUES = 100;

/** Reads what came in against its schema. Throws AppError with every fault and its path. */
export function parseBody<T extends z.ZodType>(schema: T, body: unknown): z.infer<T> {
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const unknown = unknownType(body);
  const issues = parsed.error.issues.slice(0, MOST_ISSUES).map((i) => ({ path: i.path.join("."), message: i.message.slice(0, 300) }));
  if (unknown !== undefined) throw new AppError("event-unknown-type", { type: unknown, known: JOB_EVENT_TYPES.join(", ") }, issues);
  throw new AppError("body-invalid", {}, issues);
}

/** The JSON body of a request, read against its schema. Throws AppError. */
export function readBody<T extends z.ZodType>(schema: T, request: Request): z.infer<T> {
  return parseBody(schema, readJson(bytesOf(request), MESSAGE_SHAPE));
}

/** The query of a request, read against its schema. Throws AppError. */
export function readQuery<T extends z.ZodType>(schema: T, request: Request): z.infer<T> {
  return parseBody(schema, inShape({ ...request.query }, MESSAGE_SHAPE));
}

/** The bytes of a body; none when it has none. */
export const bytesOf = (request: Request): Uint8Array => (request.body instanceof Uint8Array ? request.body : new Uint8Array(0));

/** The first event type in a body that nobody knows. */
function unknownType(body: unknown): string | undefined {
  const shape = z.union([z.object({ events: z.array(z.object({ type: z.string() })) }), z.object({ type: z.string() })]).safeParse(body);
  if (!shape.success) return undefined;
  const list = "events" in shape.data ? shape.data.events : [shape.data];
  return list
    .map((e) => e.type)
    .find((t) => !(JOB_EVENT_TYPES as readonly string[]).includes(t))
    ?.slice(0, 60);
}

/** The job id of a route. Throws AppError job-id-invalid. */
export function readJobId(request: Request): string {
  const id = String(request.params.id);
  if (!uuid7.safeParse(id).success) throw new AppError("job-id-invalid", { id: id.slice(0, 60) });
  return id;
}
