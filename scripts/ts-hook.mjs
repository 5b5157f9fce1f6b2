// Lets Node run the TypeScript sources: node --import ./scripts/ts-hook.mjs file.ts
import { register } from "node:module";

register("./ts-load.mjs", import.meta.url);
