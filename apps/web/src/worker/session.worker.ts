import { expose } from "comlink";
import { createHost } from "./host.ts";

expose(createHost(() => new Promise((resolve) => setTimeout(resolve, 0))));
