import { z } from "zod";

/** Writes to the browser's storage. False when it is full or shut off: the value then lives only as long as the page. */
export function keepItem(key: string, value: string): boolean {
  try {
    localStorage.setItem(key, value);
    return true;
  } catch {
    return false;
  }
}

/** What was kept under a key, as far as its fields are of the kind that `empty` has; the rest is taken from `empty`. */
export function readLike<T extends object>(key: string, empty: T): T {
  try {
    const kept = z.record(z.string(), z.unknown()).parse(JSON.parse(localStorage.getItem(key) ?? "{}"));
    const fits = Object.entries(empty).filter(([name, value]) => typeof kept[name] === typeof value);
    return { ...empty, ...Object.fromEntries(fits.map(([name]) => [name, kept[name]])) };
  } catch {
    return empty;
  }
}
