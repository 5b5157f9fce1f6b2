import { partsOfFault, type CommandPin, type Fault } from "../../circuit/index.ts";
import { linkOf, netAt, partNameIn, pinPlace, type Harness, type Net } from "../../harness/index.ts";
import type { ViewOptions } from "./phase-base.ts";

const lineOf = (harness: Harness, { part, pin }: CommandPin): Net | undefined => netAt(harness, pinPlace(part, pin));

/** Whether a fault is on the line over which a part waits for messages, or in one of the two parts at its ends. */
export function isOnLineOf(harness: Harness, fault: Fault, c: CommandPin): boolean {
  const line = lineOf(harness, c);
  const ends = [c.part, c.speaker?.id];
  const isThere = (place: string): boolean => ends.includes(partNameIn(place)) || (line !== undefined && netAt(harness, place) === line);
  return partsOfFault(harness, fault).some((f) => {
    switch (f.kind) {
      case "open":
      case "series":
      case "stuck": {
        const link = linkOf(harness, f.link);
        return isThere(f.link) || (link !== undefined && (isThere(link.a) || isThere(link.b)));
      }
      case "short to ground":
      case "short to feed":
        return isThere(f.place);
      case "across":
        return isThere(f.from) || isThere(f.to);
      case "settings":
        return ends.includes(f.component);
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
