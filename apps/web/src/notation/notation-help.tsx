import { styled } from "styled-components";

const Details = styled.details`
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  padding: 0 var(--s3);
  summary {
    min-height: var(--target);
    display: flex;
    align-items: center;
    cursor: pointer;
    font-weight: 640;
  }
  pre {
    font-family: var(--mono);
    font-size: 0.875rem;
    overflow-x: auto;
    margin: 0 0 var(--s3);
  }
  li {
    margin-bottom: 4px;
  }
`;

/** The notation on half a page. docs/formats/notation.md has all of it. */
export function NotationHelp() {
  return (
    <Details>
      <summary>How to write it</summary>
      {/* Long lines scroll; a scrolling region must be reachable by keyboard. */}
      <pre
        tabIndex={0}
        aria-label="Example of a circuit text"
      >{`BAT -- RD 6mm2 1m -- F4(15A) -- W2 RD/BU 2.5mm2 2m -- SW1 -- C7.3 -- BU 1.5mm2 2m -- HORN(load 6A)
HORN -- BK 1.5mm2 0.4m -- G3
G1 -- BK 25mm2 0.5m -- BAT`}</pre>
      <ul>
        <li>Follow the current: part, then “--”, then the wire, then “--”, then the next part. A line is one chain.</li>
        <li>A wire is colour, area and length, with its number in front if it has one: W2 RD/BU 2.5mm2 2m.</li>
        <li>
          Letters tell the part: BAT battery, F fuse, SW switch, C or X connector, S splice, G ground. Say anything else once in
          parentheses: FAN(motor 22A “cab fan”).
        </li>
        <li>C7.3 is cavity 3 of connector C7. Branch at a splice: begin a new line with its name.</li>
        <li>Do not forget the battery’s own ground cable: G1 -- BK 25mm2 0.5m -- BAT.</li>
      </ul>
    </Details>
  );
}
