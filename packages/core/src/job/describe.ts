import { describeState } from "../circuit/index.ts";
import { codeName } from "../codes/index.ts";
import { loggedWords } from "../diagnosis/index.ts";
import type { Leads } from "../instruments/index.ts";
import { unreachable } from "../quantity/index.ts";
import { formatMoney, totalsOf } from "../repair/index.ts";
import type { LogEntry } from "./entry.ts";
import type { EventOf } from "./events.ts";
import { meterCheckWords } from "./meter-check.ts";

/** "F3.2 against BAT.-", "clamp around W2". */
export function describeLeads(leads: Leads): string {
  return leads.quantity === "amps" ? `clamp around ${leads.around}` : `${leads.red} against ${leads.black}`;
}

/** "FAN: none", "look at W5: rubbed". */
export function seenWords({ observe: o, word, value, wrong }: EventOf<"seen">["data"]): string {
  return `${loggedWords(o)}: ${word ?? `${value} V`}${wrong ? ", complained of" : ""}`;
}

/** "1 h 20 min". */
export const hoursWords = (minutes: number): string => {
  const [h, min] = [Math.floor(minutes / 60), Math.round(minutes % 60)];
  return [h === 0 ? "" : `${h} h`, min === 0 && h > 0 ? "" : `${min} min`].filter((w) => w !== "").join(" ");
};

/** An entry as one line of a log. */
export function describeEvent(event: LogEntry): string {
  switch (event.type) {
    case "unreadable":
      return `Entry that cannot be read (${event.why}): ${event.raw}`;
    case "job-opened":
      return `Job opened: ${event.data.vehicle}. ${event.data.words}`;
    case "complaint-changed":
      return `Complaint changed: ${event.data.words}`;
    case "circuit-set":
      if (event.data.vehicle !== undefined)
        return `Circuit of ${event.data.vehicle.id}, version ${event.data.vehicle.version}${event.data.vehicle.options.length === 0 ? "" : `, with ${event.data.vehicle.options.join(", ")}`}`;
      return `Circuit written, ${event.data.notation.split("\n").filter((l) => l.trim() !== "").length} lines`;
    case "found-different":
      return `Differs from the diagram at ${event.data.at}, ${event.data.what}: ${event.data.drawn === "" ? "" : `drawn ${event.data.drawn}, `}found ${event.data.found}`;
    case "found-promoted":
      return `Taken into the vehicle's wiring as version ${event.data.version}`;
    case "rules-chosen":
      return `Rule set: ${event.data.rules}`;
    case "reading-taken":
      return `${describeLeads(event.data.leads)}: ${event.data.text} (${describeState(event.data.state)})`;
    case "seen":
      return `${seenWords(event.data)} (${describeState(event.data.state)})`;
    case "codes-read": {
      const { codes, modules } = event.data.scan;
      const mute = modules.filter((m) => !m.answers && m.asleep !== true).map((m) => m.id);
      const named = codes.map((c) => [c.module, codeName(c), c.status].filter(Boolean).join(" "));
      return `Codes read: ${named.length === 0 ? "none" : named.join(", ")}${mute.length === 0 ? "" : `; silent: ${mute.join(", ")}`}`;
    }
    case "codes-cleared":
      return `Codes cleared${event.data.note === "" ? "" : `: ${event.data.note}`}`;
    case "practice-begun":
      return `Practice job, advice ${event.data.advice === "asked" ? "on request" : event.data.advice}${event.data.speaker === "" ? "" : `; told by ${event.data.speaker}`}`;
    case "hint-given":
      return `Hint: ${event.data.text}`;
    case "clock-turned":
      return event.data.running ? "Clock started" : "Clock stopped";
    case "advice-asked":
      return `Advice asked for: ${event.data.on}`;
    case "presence-told":
      return event.data.share >= 1 ? "Fault always present" : `Fault present ${Math.round(100 * event.data.share)} % of the time`;
    case "wiggled":
      return `${describeLeads(event.data.leads)} watched for ${Math.round((event.data.samples.at(-1)?.[0] ?? 0) / 1000)} s while ${
        [...new Set(event.data.marks.map(([, at]) => at).filter((at) => at !== ""))].join(", ") || "nothing"
      } was moved (${describeState(event.data.state)})`;
    case "planned":
      return [
        event.data.whose === "" ? "Nobody's job" : `${event.data.whose}'s job`,
        ...((event.data.promised ?? "") === "" ? [] : [`promised for ${event.data.promised!.replace("T", " ")}`]),
        ...(event.data.hours === undefined ? [] : [`${event.data.hours} h of work`]),
        ...(event.data.waits === ""
          ? []
          : [`waits for ${event.data.waits}${event.data.until === "" ? "" : ` until ${event.data.until.replace("T", " ")}`}`]),
      ].join("; ");
    case "struck":
      return `Struck: ${event.data.why}`;
    case "temporary-made":
      return `${event.data.at} ${event.data.kind}${event.data.to === "" ? "" : ` to ${event.data.to}`}${event.data.note === "" ? "" : `: ${event.data.note}`}`;
    case "temporary-undone":
      return "Put back";
    case "temporary-explained":
      return `Stays: ${event.data.why}`;
    case "mend-made":
      return `Mended at ${event.data.at}, ${event.data.method}: ${event.data.done}${event.data.fuseAmps === undefined ? "" : ` Fuse put in: ${event.data.fuseAmps} A.`}`;
    case "finding-kept":
      return `${event.data.outcome === "advised" ? "Advised" : "Declined"} at ${event.data.at}: ${event.data.found}`;
    case "neighbour-told":
      return `Beside ${event.data.of}: ${event.data.wires.join(", ")} ${{ sound: "good", nicked: "nicked", mended: "repaired" }[event.data.verdict]}`;
    case "neighbours-left":
      return `Neighbours of ${event.data.of} not all looked at: ${event.data.why}`;
    case "step-ticked":
      return `${event.data.of}: ${event.data.step} ${event.data.done ? "done" : "not done"}`;
    case "estimate-made": {
      const { gross } = totalsOf(event.data);
      return `Estimate: ${event.data.lines.length} lines, ${formatMoney(gross, event.data.currency)}`;
    }
    case "estimate-answered":
      return `Estimate ${event.data.answer} by ${event.data.who}${event.data.how === "" ? "" : `, ${event.data.how}`}${event.data.note === "" ? "" : `: ${event.data.note}`}`;
    case "test-excused":
      return `Cannot be repeated: ${event.data.test}, because ${event.data.why}`;
    case "driven":
      return `Test drive: ${event.data.outcome}${event.data.met.length === 0 ? "" : `, with ${event.data.met.join(", ")}`}${event.data.seen === "" ? "" : `. ${event.data.seen}`}`;
    case "return-watched":
      return event.data.until === "" && event.data.distance === ""
        ? "Nobody has to ask any more"
        : `Ask ${[event.data.until === "" ? "" : `on ${event.data.until}`, event.data.distance === "" ? "" : `after ${event.data.distance}`].filter(Boolean).join(" or ")} whether it came back`;
    case "time-told":
      return `Worked ${hoursWords(event.data.minutes)} on it in all`;
    case "cases-weighed":
      return `Similar closed jobs ${event.data.weighed ? "count" : "do not count"} for the suspects`;
    case "customer-removed":
      return `What tells whose vehicle it is was taken out of ${event.data.entries} entries${event.data.pictures === 0 ? "" : ` and with ${event.data.pictures} pictures`}, ${event.data.months} months being the shop's limit`;
    case "picture-kept":
      return `Picture ${event.data.when} the repair${event.data.at === "" ? "" : `, ${event.data.at}`}${event.data.caption === "" ? "" : `: ${event.data.caption}`}`;
    case "known-good-used":
      return `Held against ${event.data.items.length === 1 ? "a known-good" : `${event.data.items.length} known-goods`}: ${event.data.what}`;
    case "meter-checked":
      return `${event.data.meter}: ${meterCheckWords(event.data)}`;
    case "clear-to-crank":
      return "Clear to crank: neutral, brake on, wheels chocked, nobody near";
    case "trace-kept":
      return `Trace kept: ${event.data.name}, ${event.data.channels.map((c) => c.name).join(", ")}`;
    case "picture-marked":
      return event.data.marks.length === 0 ? "Marks taken off a picture" : `Picture marked (${event.data.marks.length})`;
    case "note-added":
      return event.data.text;
    case "job-closed":
      return `Closed. Safe to drive: ${event.data.safeToDrive}`;
    case "job-reopened":
      return `Re-opened: ${event.data.why}`;
    default:
      return unreachable(event);
  }
}
