const SCALES: readonly (readonly [string, number])[] = [
  ["meg", 1e6],
  ["mil", 25.4e-6],
  ["t", 1e12],
  ["g", 1e9],
  ["k", 1e3],
  ["m", 1e-3],
  ["u", 1e-6],
  ["µ", 1e-6],
  ["n", 1e-9],
  ["p", 1e-12],
  ["f", 1e-15],
];

/** Reads "4k7"-free SPICE numbers: "4.7k", "10MEG", "1e-3", "12V" (letters behind the scale are ignored). Undefined when it is none. */
export function spiceNumber(text: string): number | undefined {
  const parts = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)([a-zµ]*)$/i.exec(text);
  if (parts === null) return undefined;
  const letters = parts[2]!.toLowerCase();
  const scale = SCALES.find(([name]) => letters.startsWith(name))?.[1] ?? 1;
  const value = Number(parts[1]) * scale;
  return Number.isFinite(value) ? value : undefined;
}
