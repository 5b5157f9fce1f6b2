import { resolve } from "node:path";
import { z } from "zod";

const environment = z.object({
  PORT: z.coerce.number().int().min(0).max(65535).default(4180),
  HOST: z.string().min(1).default("127.0.0.1"),
  RHEONOM_DATA: z.string().min(1).optional(),
  DATABASE_URL: z.string().min(1).optional(),
  RHEONOM_FRESH: z.enum(["0", "1"]).default("0"),
  RHEONOM_DEMO: z.enum(["0", "1"]).default("0"),
  LOG_LEVEL: z.enum(["fatal", "error", "warn", "info", "debug", "silent"]).default("warn"),
});

export interface Config {
  readonly port: number;
  readonly host: string;
  /** Folder of the embedded database. */
  readonly dataFolder: string;
  /** Address of a PostgreSQL server, which then takes the embedded database's place. */
  readonly databaseUrl: string | undefined;
  /** Empty the embedded database before opening it. */
  readonly startFresh: boolean;
  readonly seedDemo: boolean;
  readonly logLevel: string;
  /** Top folder of the project, which holds demo/, apps/web/dist and the migrations. */
  readonly root: string;
}

/** Reads the environment. Throws an Error that names the variable and what it may be. */
export function readConfig(env: NodeJS.ProcessEnv, root: string): Config {
  const parsed = environment.safeParse(env);
  if (!parsed.success) {
    const words = parsed.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join("; ");
    throw new Error(`The settings cannot be used. ${words}`);
  }
  const e = parsed.data;
  return {
    port: e.PORT,
    host: e.HOST,
    dataFolder: resolve(root, e.RHEONOM_DATA ?? ".data"),
    databaseUrl: e.DATABASE_URL,
    startFresh: e.RHEONOM_FRESH === "1",
    seedDemo: e.RHEONOM_DEMO === "1",
    logLevel: e.LOG_LEVEL,
    root,
  };
}
