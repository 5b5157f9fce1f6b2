import type { IncomingHttpHeaders } from "node:http";
import { isIP } from "node:net";
import { isLoopback, unbracketed } from "./addresses.ts";

/** Who may ask: under which names this server is addressed. */
export interface Door {
  readonly openToNetwork: boolean;
  readonly names: readonly string[];
}

export type Turned = "host" | "origin";

/**
 * Why a caller is turned away; undefined when it may come in. Checked before anything else is read of a request or an upgrade.
 *
 * Host: only loopback names, and, when open to a network, addresses and the names of the settings. A page of another site can make its own name lead here (DNS rebinding), and is
 * then known by nothing but that name. Origin: only pages that this server has sent. What browsers send along when a page of another site asks (`Sec-Fetch-Site`) keeps
 * also reading and printing from being set off from there; following a link to a page stays possible.
 */
export function turnAway(headers: IncomingHttpHeaders, isPage: boolean, door: Door): Turned | undefined {
  const host = hostOf(headers.host);
  if (host === undefined || !isOwnName(host, door)) return "host";
  const { origin } = headers;
  if (origin !== undefined && originHost(origin) !== headers.host?.toLowerCase()) return "origin";
  const site = headers["sec-fetch-site"];
  if (!isPage && (site === "cross-site" || site === "same-site")) return "origin";
  return undefined;
}

/** The name of a Host header without its port; undefined when it is none. */
function hostOf(header: string | undefined): string | undefined {
  const match = /^(\[[0-9a-f:.]+\]|[a-z0-9._-]+)(?::\d{1,5})?$/i.exec(header ?? "");
  return match === null ? undefined : unbracketed(match[1]!);
}

function isOwnName(host: string, { openToNetwork, names }: Door): boolean {
  return isLoopback(host) || names.includes(host) || (openToNetwork && isIP(host) !== 0);
}

function originHost(origin: string): string | undefined {
  try {
    const url = new URL(origin);
    return url.protocol === "http:" || url.protocol === "https:" ? url.host : undefined;
  } catch {
    return undefined;
  }
}
