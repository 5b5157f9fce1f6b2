import { format } from "date-fns";
import { Link } from "react-router";
import { styled } from "styled-components";
import { inWords } from "@rheonom/core/diagnosis";
import { driveWords, estimateAnswer, findingFacts, hoursWords, mendFacts, watchWords, type Report } from "@rheonom/core/job";
import { formatAmps, formatOhms, formatVolts } from "@rheonom/core/quantity";
import { EstimateTable } from "../../job/estimate-table.tsx";
import { PictureView } from "../../job/pictures/picture-view.tsx";
import { Faint, Hidden } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";

const Facts = styled.dl`
  display: grid;
  grid-template-columns: minmax(110px, 160px) 1fr;
  gap: 4px var(--s4);
  margin: 0;
  dt {
    color: var(--ink-2);
  }
  dd {
    margin: 0;
    white-space: pre-wrap;
  }
`;
const time = (iso: string): string => format(new Date(iso), "d MMM yyyy, HH:mm");
const volts = (v: number | null): string => (v === null ? "–" : formatVolts(v));

function FactList({ rows }: { rows: readonly (readonly [string, string])[] }) {
  return (
    <Facts>
      {rows
        .filter(([, value]) => value !== "")
        .map(([name, value]) => (
          <div key={name} style={{ display: "contents" }}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
    </Facts>
  );
}

interface SectionProps {
  readonly report: Report;
}

export function ComplaintSection({ report: { complaint, job } }: SectionProps) {
  return (
    <section>
      <h2>Complaint</h2>
      <FactList
        rows={[
          ["Customer’s words", complaint.words],
          ["Conditions", complaint.conditions],
          ["Tried before", [complaint.triedBefore, complaint.triedBy === "" ? "" : `by ${complaint.triedBy}`].filter(Boolean).join("; ")],
          ["Warning lamps", complaint.warningLamps.join(", ")],
          [
            "Reproduced",
            complaint.reproduced === "not tried" ? "" : [complaint.reproduced, complaint.reproducedHow].filter(Boolean).join(": "),
          ],
          ["Safe to drive", complaint.risk === "not judged" ? "" : [complaint.risk, complaint.riskWhy].filter(Boolean).join(": ")],
          ["Mileage", complaint.mileage],
          ["High voltage", complaint.highVoltage ? "hybrid or electric; the high-voltage side was out of bounds" : ""],
          ["Opened", `${time(job.openedAt)} by ${job.openedBy}`],
          ["Closed", job.closedAt === null ? "" : `${time(job.closedAt)} by ${job.closedBy ?? ""}`],
        ]}
      />
    </section>
  );
}

export function VerdictSection({ report }: SectionProps) {
  if (report.verdicts.length === 0) return null;
  return (
    <section>
      <h2>What the readings say</h2>
      {report.verdicts.map((v, i) => (
        <p key={i} style={{ marginBottom: 8 }}>
          <strong>{v.headline}</strong> {v.detail}{" "}
          <Faint>
            {v.phase} the repair, {v.load}, {v.stateWords}, rule set {report.rules}
          </Faint>
        </p>
      ))}
    </section>
  );
}

export function MendSection({ report }: SectionProps) {
  if (report.mends.length === 0) return null;
  return (
    <section>
      <h2>Findings and repairs</h2>
      {report.mends.map((m, i) => (
        <FactList key={i} rows={mendFacts(m, time)} />
      ))}
    </section>
  );
}

/** Found and not repaired: what was advised and what was declined, with its risk. */
export function FindingSection({ report }: SectionProps) {
  if (report.findings.length === 0) return null;
  return (
    <section>
      <h2>Advised and declined</h2>
      {report.findings.map((f, i) => (
        <FactList key={i} rows={findingFacts(f)} />
      ))}
    </section>
  );
}

/** What it costs, and the customer's word on it. */
export function EstimateSection({ report: { estimate, workedMinutes } }: SectionProps) {
  if (estimate === null && workedMinutes === null) return null;
  return (
    <section>
      <h2>{estimate === null ? "Time" : "Estimate"}</h2>
      {estimate === null ? null : (
        <>
          <EstimateTable estimate={estimate} />
          <p>{estimateAnswer(estimate, time)}</p>
        </>
      )}
      {workedMinutes === null ? null : <p>Worked {hoursWords(workedMinutes)} in all.</p>}
    </section>
  );
}

/** Drives under the conditions of the complaint, and when somebody asks again. */
export function DriveSection({ report: { drives, watch } }: SectionProps) {
  if (drives.length === 0 && watch === null) return null;
  return (
    <section>
      <h2>Test drive and watch</h2>
      {drives.map((d, i) => (
        <p key={i}>
          {driveWords(d)} <Faint>{`${d.by}, ${time(d.at)}`}</Faint>
        </p>
      ))}
      {watch === null ? null : <p>Ask whether it came back {watchWords(watch)}</p>}
    </section>
  );
}

const OUTCOME = {
  proven: "verified",
  "still failing": "still failing",
  "not repeated": "not repeated",
  "cannot judge": "inconclusive",
  "no current": "good, but without proof of current",
  excused: "not repeated, with a reason",
} as const;
const SAFE = { yes: "safe to drive", "with advice": "safe to drive with the advice below", no: "NOT safe to drive" } as const;

export function ProofSection({ report: { proof, closing } }: SectionProps) {
  return (
    <section>
      <h2>Verification: the same test before and after</h2>
      {proof.checks.length === 0 ? null : (
        <Table>
          <thead>
            <tr>
              <th scope="col">Seen or read</th>
              <th scope="col">Before</th>
              <th scope="col">After</th>
              <th scope="col">Expected</th>
              <th scope="col">Outcome</th>
            </tr>
          </thead>
          <tbody>
            {proof.checks.map((c, i) => (
              <tr key={i}>
                <td>
                  {c.what} <Faint>{c.stateWords}</Faint>
                </td>
                <td>{inWords(c.before)}</td>
                <td>{inWords(c.after ?? "–")}</td>
                <td>{inWords(c.sound)}</td>
                <td>{OUTCOME[c.outcome]}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {proof.pairs.length + proof.checks.length > 0 ? null : (
        <p>{proof.outcome === "no mend" ? "Nothing was repaired." : "Nothing had failed before the repair."}</p>
      )}
      {proof.pairs.length === 0 ? null : (
        <Table>
          <thead>
            <tr>
              <th scope="col">Drop over</th>
              <th scope="col" className="n">
                Before
              </th>
              <th scope="col" className="n">
                After
              </th>
              <th scope="col" className="n">
                Limit
              </th>
              <th scope="col" className="n">
                Expected
              </th>
              <th scope="col">Outcome</th>
            </tr>
          </thead>
          <tbody>
            {proof.pairs.map((p, i) => (
              <tr key={i}>
                <td>
                  {p.from} to {p.to} <Faint>{p.stateWords}</Faint>
                </td>
                <td className="n">{volts(p.beforeVolts)}</td>
                <td className="n">{volts(p.afterVolts)}</td>
                <td className="n">{volts(p.afterLimitVolts ?? p.beforeLimitVolts)}</td>
                <td className="n">{volts(p.soundVolts)}</td>
                <td>{OUTCOME[p.outcome]}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {closing === null ? null : (
        <FactList
          rows={[
            ["Vehicle", SAFE[closing.safeToDrive]],
            ["Advice", closing.advice],
            ["Without proof", closing.withoutProof],
          ]}
        />
      )}
    </section>
  );
}

const soundWords = (r: Report["readings"][number]): string =>
  r.soundValue === null ? "–" : { volts: formatVolts, ohms: formatOhms, amps: formatAmps }[r.leads.quantity](r.soundValue);

export function ReadingSection({ report }: SectionProps) {
  if (report.readings.length === 0) return null;
  return (
    <section>
      <h2>Readings</h2>
      <Table>
        <caption>
          <Hidden>All readings with their state</Hidden>
        </caption>
        <thead>
          <tr>
            <th scope="col">Time</th>
            <th scope="col">Leads, red against black</th>
            <th scope="col">State</th>
            <th scope="col" className="n">
              Reading
            </th>
            <th scope="col" className="n">
              Expected
            </th>
            <th scope="col">By</th>
          </tr>
        </thead>
        <tbody>
          {report.readings.map((r, i) => (
            <tr key={i} data-struck={r.struck === null ? undefined : true}>
              <td>{time(r.at)}</td>
              <td>{r.leadsWords}</td>
              <td>
                {r.stateWords}; {r.phase} the repair
                {r.instrument === "simulated" ? "; simulated vehicle" : r.instrument === "worked out" ? "; worked out" : ""}
                {r.meter === "" ? "" : `; ${r.meter}`}
                {r.struck === null ? "" : ` (struck: ${r.struck})`}
              </td>
              <td className="n">{r.text}</td>
              <td className="n">{soundWords(r)}</td>
              <td>{r.by}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}

export function TemporarySection({ report }: SectionProps) {
  if (report.temporary.length === 0 && report.notes.length === 0 && report.found.length === 0) return null;
  return (
    <section>
      <h2>Temporarily changed, and notes</h2>
      <ul>
        {report.temporary.map((t, i) => (
          <li key={i}>
            {t.place} {t.kind}
            {t.to === "" ? "" : ` to ${t.to}`}:{" "}
            {t.ended === "undone" ? "put back" : t.ended === "explained" ? `stays, ${t.why}` : "NOT PUT BACK"} <Faint>{t.by}</Faint>
          </li>
        ))}
        {report.found.map((f, i) => (
          <li key={`f${i}`}>
            {f.place}, {f.what}: {f.drawn === "" ? "" : `drawn ${f.drawn}, `}found {f.found} on the vehicle <Faint>{f.by}</Faint>
          </li>
        ))}
        {report.notes.map((n, i) => (
          <li key={`n${i}`}>
            {n.text}{" "}
            <Faint>
              {n.by}, {time(n.at)}
            </Faint>
          </li>
        ))}
      </ul>
    </section>
  );
}

export function CautionSection({ report }: SectionProps) {
  return (
    <section>
      <h2>Cautions that applied</h2>
      <ul>
        {report.cautions.map((c) => (
          <li key={c.title}>
            <strong>{c.title}.</strong> {c.text}
          </li>
        ))}
      </ul>
      <Faint>{report.cautionFooter}</Faint>
    </section>
  );
}

/** A pair lies side by side, also on paper. */
const Pairs = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: var(--s4);
  li {
    display: grid;
    gap: var(--s1);
    align-content: start;
    break-inside: avoid;
    /* A picture before begins a row. */
    &[data-when="before"] {
      grid-column: 1;
    }
  }
`;

export function PictureSection({ report: { pictures } }: { report: Report }) {
  if (pictures.length === 0) return null;
  return (
    <section>
      <h2>Pictures</h2>
      <Pairs>
        {pictures.map((p, i) => (
          <li key={i} data-when={p.when}>
            <PictureView picture={p} size="whole" alt={`${p.when} the repair, ${p.place}. ${p.caption}`} />
            <strong>
              {p.when === "before" ? "Before" : "After"}
              {p.place === "" ? "" : `, ${p.place}`}
            </strong>
            {p.caption === "" ? null : <span>{p.caption}</span>}
            <Faint>{[p.reading, p.by].filter(Boolean).join(" · ")}</Faint>
          </li>
        ))}
      </Pairs>
    </section>
  );
}

export function TraceSection({ report: { traces, job } }: SectionProps) {
  if (traces.length === 0) return null;
  return (
    <section>
      <h2>Traces</h2>
      {traces.map((t, i) => (
        <p key={i}>
          <Link to={`/jobs/${job.id}/bench`}>{t.name}</Link>:{" "}
          {t.channels.map((c) => `${c.name}${c.leadsWords === "" ? "" : ` (${c.leadsWords})`}`).join("; ")}{" "}
          <Faint>{[t.stateWords, t.by, time(t.at)].filter(Boolean).join(" · ")}. Drawn in the PDF.</Faint>
        </p>
      ))}
    </section>
  );
}
