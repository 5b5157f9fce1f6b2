import { useEffect, useState } from "react";
import { Link } from "react-router";
import { complainedParts, latestScan, liveWords, type EventOf } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { keepItem, readLike } from "../../job/kept.ts";
import { liveOnDrive, liveTold, type LiveShown } from "../../job/live-of.ts";
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
  const key = `rheonom.drive-live.${job.id}`;
  const [kept, setKept] = useState<Told>(() => readLike(key, { told: [] as Told }).told);
  const [recorded, setRecorded] = useState<readonly LiveShown[]>([]);
  const codes = latestScan(job.view)?.data.scan.codes ?? [];
  const shown = harness === undefined ? [] : liveOnDrive(harness, [...codes.map((c) => c.module), ...complainedParts(job.view)]);
  const isConnected = link.status === "connected" && shown.length > 0;
  const { live } = link;
  const told = live === undefined ? kept : liveTold(recorded, live);
  const keep = (values: Told): void => {
    keepItem(key, JSON.stringify({ told: values }));
    setKept(values);
  };
  // What came in so far outlives a look at another screen, which ends the recording.
  useEffect(() => {
    if (live !== undefined) keepItem(key, JSON.stringify({ told: liveTold(recorded, live) }));
  }, [key, live, recorded]);
  return {
    isConnected,
    told,
    isRunning: live !== undefined,
    rounds: live?.rounds ?? 0,
    start: () => {
      keep(NONE);
      if (!isConnected) return;
      setRecorded(shown);
      link.readLive(
        shown.map((s) => s.wish),
        HERTZ,
      );
    },
    stop: () => {
      if (live === undefined) return;
      keep(told);
      link.stopLive();
    },
    clear: () => keep(NONE),
  };
}

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
      {told.map(liveWords).join(" · ")}
    </div>
  );
}
