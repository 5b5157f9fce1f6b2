import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { supervise } from "./supervise.ts";

/** The program that `npm run demo` runs: the server beside it, watched over. */
const built = fileURLToPath(new URL("./main.mjs", import.meta.url));
supervise(existsSync(built) ? built : fileURLToPath(new URL("./main.ts", import.meta.url)));
