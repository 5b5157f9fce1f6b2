import { BlockList, isIP } from "node:net";

const LOOPBACK = blockListOf(["127.0.0.0/8", "::1/128"]);

/** Whether a host of the settings, or of a Host header without its port, is this machine and nothing else. */
export function isLoopback(host: string): boolean {
  const bare = unbracketed(host);
  return bare === "localhost" || isIn(LOOPBACK, bare);
}

/** Whether an address lies in any of the ranges; false for what is no address. */
export function isIn(ranges: BlockList, address: string): boolean {
  const family = isIP(address);
  if (family === 0) return false;
  // An IPv4 address in IPv6 clothes is the address that it wears.
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped !== undefined) return ranges.check(mapped, "ipv4");
  return ranges.check(address, family === 4 ? "ipv4" : "ipv6");
}

/** Ranges written as address/prefix. Throws RangeError with the one that is none. */
export function blockListOf(ranges: readonly string[]): BlockList {
  const list = new BlockList();
  for (const range of ranges) {
    const [address = "", prefix = ""] = range.split("/");
    const family = isIP(address);
    const bits = Number(prefix);
    if (family === 0 || !/^\d{1,3}$/.test(prefix) || bits > (family === 4 ? 32 : 128))
      throw new RangeError(`"${range}" is not a range of addresses, such as 192.168.0.0/16`);
    list.addSubnet(address, bits, family === 4 ? "ipv4" : "ipv6");
  }
  return list;
}

export const unbracketed = (host: string): string => host.replace(/^\[(.*)\]$/, "$1").toLowerCase();
