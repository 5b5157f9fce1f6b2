import { useState } from "react";
import { Link } from "react-router";
import type { EventOf } from "@rheonom/core/job";
import { complainedParts, latestScan } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { liveOnDrive, liveTold } from "../../job/live-of.ts";
import { useLink } from "../../job/use-link.ts";
import { Faint } from "../../ui/layout.tsx";

type Told = NonNullable<EventOf<"driven">["data"]["live"]>;

/** What modules say while somebody drives; nothing is recorded where no vehicle is connected. */
export interface DriveLiveState {
  readonly isConnected: boolean;
  readonly told: Told;
  readonly isRunning: boolean;
  readonly rounds: number;
  readonly start: () => void;
  readonly stop: () => void;
  readonly clear: () => void;
}

const NONE: Told = [];
/** Readings a second: a drive is long, and what matters lasts. */
const HERTZ = 2;

export function useDriveLive(): DriveLiveState {
  const { job, harness } = useJobContext();
  const link = useLink(job.id);
  const [kept, setKept] = useState<Told>(NONE);
  const codes = latestScan(job.view)?.data.scan.codes ?? [];
  const shown = harness === undefined ? [] : liveOnDrive(harness, [...codes.map((c) => c.module), ...complainedParts(job.view)]);
  const isConnected = link.status === "connected" && shown.length > 0;
  const now = link.live === undefined ? NONE : liveTold(shown, link.live);
  return {
    isConnected,
    told: link.live === undefined ? kept : now,
    isRunning: link.live !== undefined,
    rounds: link.live?.rounds ?? 0,
    start: () => {
      setKept(NONE);
      if (isConnected)
        link.readLive(
          shown.map((s) => s.wish),
          HERTZ,
        );
    },
    stop: () => {
      if (link.live === undefined) return;
      setKept(now);
      link.stopLive();
    },
    clear: () => setKept(NONE),
  };
}

const text = ({ name, unit, low, high }: Told[number]): string => {
  const [from, to] = [low, high].map((v) => String(Number(v.toPrecision(4))));
  return `${name} ${from === to ? from : `${from} to ${to}`} ${unit}`.trim();
};

export function DriveLive({ live: { isConnected, isRunning, told, rounds } }: { live: DriveLiveState }) {
  const { job } = useJobContext();
  if (!isConnected && told.length === 0)
    return (
      <Faint>
        Connect the vehicle under <Link to={`/jobs/${job.id}/codes`}>Codes</Link> and its live values are recorded while the clock runs.
      </Faint>
    );
  return (
    <div role="group" aria-label="Live values of the drive">
      <Faint>
        {isRunning
          ? `Recording, ${rounds} rounds.`
          : told.length === 0
            ? "Connected: live values are recorded while the clock runs."
            : "Recorded, saved with the drive."}
      </Faint>{" "}
      {told.map(text).join(" · ")}
    </div>
  );
}
