import { partsOfFault, type CommandPin, type Fault } from "../../circuit/index.ts";
import { linkOf, netAt, partNameIn, pinPlace, type Harness, type Net } from "../../harness/index.ts";
import type { ViewOptions } from "./phase-base.ts";

const lineOf = (harness: Harness, { part, pin }: CommandPin): Net | undefined => netAt(harness, pinPlace(part, pin));

/**
 * Whether a fault is on the line over which a part waits for messages, in that part, or in what speaks on it. What takes the feed or ground from whoever speaks shows by the levels there.
 */
export function isOnLineOf(harness: Harness, fault: Fault, c: CommandPin): boolean {
  const line = lineOf(harness, c);
  const isThere = (place: string): boolean => partNameIn(place) === c.part || (line !== undefined && netAt(harness, place) === line);
  const isOfSpeaker = (link: string): boolean => c.speaker!.pins.some((pin) => link.startsWith(`${c.speaker!.id}.${pin} `));
  return partsOfFault(harness, fault).some((f) => {
    switch (f.kind) {
      case "open":
      case "series":
      case "stuck": {
        const link = linkOf(harness, f.link);
        return isOfSpeaker(f.link) || isThere(f.link) || (link !== undefined && (isThere(link.a) || isThere(link.b)));
      }
      case "short to ground":
      case "short to feed":
        return isThere(f.place);
      case "across":
        return isThere(f.from) || isThere(f.to);
      case "settings":
        return f.component === c.part || f.component === c.speaker?.id;
      case "lead":
        return false;
    }
  });
}

/** What messages come by is not cut off. */
export function keepingLines(harness: Harness, commands: readonly CommandPin[], { keep }: ViewOptions): Pick<ViewOptions, "keep"> {
  const lines = commands.filter((c) => c.speaker !== undefined);
  if (keep === undefined || lines.length === 0) return {};
  const links = new Set(lines.flatMap((c) => lineOf(harness, c)?.links.map((l) => l.id) ?? []));
  const isOfSpeaker = (element: string): boolean =>
    lines.some(
      ({ part, speaker }) => partNameIn(element) === part || speaker!.pins.some((pin) => element.startsWith(`${speaker!.id}.${pin} `)),
    );
  return { keep: (element) => keep(element) || links.has(element) || isOfSpeaker(element) };
}
