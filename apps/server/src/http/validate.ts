import type { Request } from "express";
import { z } from "zod";
import { JOB_EVENT_TYPES, uuid7 } from "@rheonom/core/job";
import { AppError } from "../errors.ts";

/** Reads a body against its schema. Throws AppError with every fault and its path. */
export function readBody<T extends z.ZodType>(schema: T, request: Request): z.infer<T> {
  const parsed = schema.safeParse(request.body);
  if (parsed.success) return parsed.data;
  const unknown = unknownType(request.body);
  const issues = parsed.error.issues.map((i) => ({ path: i.path.join("."), message: i.message }));
  if (unknown !== undefined) throw new AppError("event-unknown-type", { type: unknown, known: JOB_EVENT_TYPES.join(", ") }, issues);
  throw new AppError("body-invalid", {}, issues);
}

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
