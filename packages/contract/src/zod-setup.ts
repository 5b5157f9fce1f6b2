import { config } from "zod";

// A page's security policy forbids code made from text: there is no use in trying it at every start.
if ("document" in globalThis) config({ jitless: true });
