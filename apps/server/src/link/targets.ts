import { lookup } from "node:dns/promises";
import { isIP } from "node:net";
import { networkInterfaces } from "node:os";
import { blockListOf, isIn, isLoopback } from "../doors/addresses.ts";
import { AppError } from "../errors.ts";

/** Where vehicles may be looked for. */
export interface Targets {
  /** The address of a host that may be asked at a port; names are looked up here, once. Throws AppError: link-outside, link-own-server, link-host-unknown. */
  readonly admit: (host: string, port: number) => Promise<string>;
  /** Whether an address may be connected to at a port: what answered may be another than was asked. */
  readonly isAllowed: (address: string, port: number) => boolean;
}

/** `ownPorts`: ports of this machine behind which this server itself, or its database, stands. Throws RangeError for a range that is none. */
export function createTargets(ranges: readonly string[], ownPorts: () => ReadonlySet<number>): Targets {
  const list = blockListOf(ranges);
  const own = (address: string, port: number): boolean => ownPorts().has(port) && isThisMachine(address);
  return {
    isAllowed: (address, port) => isIn(list, address) && !own(address, port),
    admit: async (host, port) => {
      const address = isIP(host) === 0 ? await addressOf(host) : host;
      if (!isIn(list, address)) throw new AppError("link-outside", { host, ranges: ranges.join(", ") });
      if (own(address, port)) throw new AppError("link-own-server", { host, port: String(port) });
      return address;
    },
  };
}

async function addressOf(host: string): Promise<string> {
  try {
    return (await lookup(host)).address;
  } catch (error) {
    throw new AppError("link-host-unknown", { host }, [], error);
  }
}

const isThisMachine = (address: string): boolean =>
  isLoopback(address) ||
  address === "0.0.0.0" ||
  address === "::" ||
  Object.values(networkInterfaces()).some((list) => list?.some((i) => i.address === address) === true);
