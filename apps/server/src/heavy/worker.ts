import { Transfer, worker } from "workerpool";
import { packError } from "../store/rpc.ts";
import { TASKS } from "./tasks.ts";

/** A thread of the pool: runs one task at a time by its name. Failures come back as values, since errors lose what they carry on the way. */
worker(
  Object.fromEntries(
    Object.entries(TASKS).map(([name, task]) => [
      name,
      async (...args: unknown[]): Promise<unknown> => {
        try {
          const value = await (task as (...a: unknown[]) => Promise<unknown>)(...args);
          return value instanceof Uint8Array ? new Transfer({ value }, [value.buffer as ArrayBuffer]) : { value };
        } catch (error) {
          return { failed: packError(error) };
        }
      },
    ]),
  ),
);
