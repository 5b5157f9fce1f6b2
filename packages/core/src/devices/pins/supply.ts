import { z } from "zod";
import type { PinKind } from "./pin.ts";

export const supplyPin = z.strictObject({ sort: z.literal("supply") });

/** Feed of a module: several may stand side by side; 5 mΩ each. Undervoltage is watched behind them. */
export const supply: PinKind<z.infer<typeof supplyPin>> = {
  sort: "supply",
  role: "feed",
  stamp: (_, { pin }, into) => into.resistor(`${pin} track`, pin, ".supply", 5e-3),
  modes: () => [],
};
