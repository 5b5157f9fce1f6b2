import type { WiggleJudged } from "@rheonom/core/diagnosis";
import { Faint } from "../ui/layout.tsx";

/** What moved a reading, spot by spot. `unit`: of the reading. */
export function WiggleWords({ judged, unit }: { judged: WiggleJudged; unit: string }) {
  return (
    <ul aria-label="What moved it">
      {judged.spots.map((s) => (
        <li key={s.at}>
          {s.word === "moves" ? <strong>{s.at}</strong> : s.at}:{" "}
          {s.word === "moves"
            ? `left the steady range ${s.excursions === 1 ? "once" : `${s.excursions} times`}, by up to ${fixed(s.farthest)} ${unit}`
            : s.word === "steady"
              ? "steady"
              : "not moved long enough"}
          {s.span === undefined ? null : <Faint> {spanWords(s.span, unit)}</Faint>}
        </li>
      ))}
      {judged.unmoved > 0 ? (
        <li>With hands off it left the steady range {judged.unmoved === 1 ? "once" : `${judged.unmoved} times`} too.</li>
      ) : null}
      <li>
        <Faint>
          Calm: {judged.calm.toFixed(2)} ± {judged.band.toFixed(2)} {unit}
          {judged.still === undefined ? "" : `; hands off ${spanWords(judged.still, unit)}`}
        </Faint>
      </li>
    </ul>
  );
}

/** "9.50 to 12.01 V, mean 11.67 V". */
const spanWords = ({ low, high, mean }: NonNullable<WiggleJudged["still"]>, unit: string): string =>
  `${fixed(low)} to ${fixed(high)} ${unit}, mean ${fixed(mean)} ${unit}`;

/** Two decimals, and no minus before nothing. */
const fixed = (v: number): string => v.toFixed(2).replace(/^-(0\.00)$/, "$1");
