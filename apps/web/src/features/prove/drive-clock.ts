import { useEffect, useState } from "react";
import { keepItem, readLike } from "../../job/kept.ts";

export interface DriveClock {
  readonly isRunning: boolean;
  /** Whole minutes since it was started; undefined before. */
  readonly minutes: number | undefined;
  readonly start: () => void;
  readonly stop: () => void;
  readonly clear: () => void;
}

/** A clock that goes on while the screen is off or another one is looked at. */
export function useDriveClock(jobId: string): DriveClock {
  const key = `rheonom.drive.${jobId}`;
  const [{ startedAt, stoppedAt }, set] = useState(() => readLike(key, { startedAt: 0, stoppedAt: 0 }));
  const [now, tick] = useState(() => Date.now());
  const isRunning = startedAt > 0 && stoppedAt === 0;
  useEffect(() => {
    if (!isRunning) return;
    const timer = setInterval(() => tick(Date.now()), 5000);
    return () => clearInterval(timer);
  }, [isRunning]);
  const keep = (clock: { readonly startedAt: number; readonly stoppedAt: number }): void => {
    keepItem(key, JSON.stringify(clock));
    tick(Date.now());
    set(clock);
  };
  return {
    isRunning,
    minutes: startedAt === 0 ? undefined : Math.max(0, Math.round(((isRunning ? now : stoppedAt) - startedAt) / 60_000)),
    start: () => keep({ startedAt: Date.now(), stoppedAt: 0 }),
    stop: () => keep({ startedAt, stoppedAt: Date.now() }),
    clear: () => keep({ startedAt: 0, stoppedAt: 0 }),
  };
}
