import { resolve } from "node:path";
import { z } from "zod";
import { isLoopback } from "./doors/addresses.ts";

/** The value that opens the server to a network: it says what it means. */
export const OPEN_WORDS = "open to everyone on this network";

const environment = z.object({
  PORT: z.coerce.number().int().min(0).max(65535).default(4180),
  HOST: z.string().min(1).default("127.0.0.1"),
  RHEONOM_ACCESS: z.literal(OPEN_WORDS, `must be "${OPEN_WORDS}", or left out`).optional(),
  RHEONOM_NAMES: z
    .string()
    .regex(/^[a-z0-9.-]+(,[a-z0-9.-]+)*$/, "must be names of this machine, in small letters, with commas between")
    .optional(),
  RHEONOM_LINK_RANGES: z.string().optional(),
  RHEONOM_DATA: z.string().min(1).optional(),
  RHEONOM_MEDIA: z.string().min(1).optional(),
  RHEONOM_LOOK: z.enum(["0", "1"]).default("0"),
  DATABASE_URL: z.string().min(1).optional(),
  RHEONOM_FRESH: z.enum(["0", "1"]).default("0"),
  RHEONOM_DEMO: z.enum(["0", "1"]).default("0"),
  LOG_LEVEL: z.enum(["fatal", "error", "warn", "info", "debug", "silent"]).default("warn"),
});

/** Where vehicles may be looked for unless a setting says otherwise: this machine, private networks and link-local addresses (RFC 1918, 3927, 4193, 4291). */
const DEFAULT_LINK_RANGES = "127.0.0.0/8,10.0.0.0/8,172.16.0.0/12,192.168.0.0/16,169.254.0.0/16,::1/128,fc00::/7,fe80::/10";

/** What the store needs to know; it crosses into the store's thread. */
export interface StoreConfig {
  /** Folder of the embedded database. */
  readonly dataFolder: string;
  /** Address of a PostgreSQL server, which then takes the embedded database's place. */
  readonly databaseUrl: string | undefined;
  /** Empty the embedded database before opening it. */
  readonly startFresh: boolean;
  /** Open a copy in memory, and write nothing. */
  readonly look: boolean;
  /** Top folder of the project, which holds demo/, apps/web/dist and the migrations. */
  readonly root: string;
  /** Who holds the folder, for the words to whoever else wants it. */
  readonly who: string;
}

export interface Config {
  readonly port: number;
  readonly host: string;
  /** Everyone on the network of `host` can use it. */
  readonly openToNetwork: boolean;
  /** Names under which it may be asked, besides the loopback ones and, when open, addresses. */
  readonly names: readonly string[];
  /** Ranges in which vehicles may be looked for, as address/prefix. */
  readonly linkRanges: readonly string[];
  readonly seedDemo: boolean;
  readonly logLevel: string;
  readonly root: string;
  /** Folder of the pictures. */
  readonly mediaFolder: string;
  readonly store: StoreConfig;
}

/** Settings that cannot be used; the message names them and says what they may be. */
export class ConfigError extends Error {}

/** Reads the environment. Throws ConfigError. */
export function readConfig(env: NodeJS.ProcessEnv, root: string): Config {
  const parsed = environment.safeParse(env);
  if (!parsed.success) {
    const words = parsed.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join("; ");
    throw new ConfigError(`The settings cannot be used. ${words}`);
  }
  const e = parsed.data;
  const dataFolder = resolve(root, e.RHEONOM_DATA ?? ".data");
  const openToNetwork = e.RHEONOM_ACCESS !== undefined;
  if (!isLoopback(e.HOST) && !openToNetwork)
    throw new ConfigError(
      `HOST=${e.HOST} would let anyone on that network read and change every job, and work the vehicles: there are no accounts yet. Leave HOST out to serve this machine only, or set RHEONOM_ACCESS="${OPEN_WORDS}" as well if that is what you want; every screen then says so.`,
    );
  return {
    port: e.PORT,
    host: e.HOST,
    openToNetwork: openToNetwork && !isLoopback(e.HOST),
    names: e.RHEONOM_NAMES?.split(",") ?? [],
    linkRanges: (e.RHEONOM_LINK_RANGES ?? DEFAULT_LINK_RANGES).split(",").map((r) => r.trim()),
    seedDemo: e.RHEONOM_DEMO === "1",
    logLevel: e.LOG_LEVEL,
    root,
    mediaFolder: e.RHEONOM_MEDIA === undefined ? resolve(dataFolder, "media") : resolve(root, e.RHEONOM_MEDIA),
    store: {
      dataFolder,
      databaseUrl: e.DATABASE_URL,
      startFresh: e.RHEONOM_FRESH === "1",
      look: e.RHEONOM_LOOK === "1",
      root,
      who: `process ${process.pid} on ${e.HOST}:${e.PORT}, started ${new Date().toISOString()}`,
    },
  };
}
