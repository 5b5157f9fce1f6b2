import { useState } from "react";
import { describeChange, describeState, type VehicleState } from "@rheonom/core/circuit";
import { colouredLeads, coloursAt, RESULT_WORDS, WIRE_COLOUR, type Observable, type ResultWord, type Test } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { readGauge } from "../../job/reading.ts";
import { Button } from "../../ui/button.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { saidOn } from "../../job/said.ts";

export interface SeenBody {
  readonly state: VehicleState;
  readonly observe: Observable;
  readonly word?: ResultWord;
  /** V or %, for what a module says that it sees, and for pulses on a scope. */
  readonly value?: number;
  readonly wrong: boolean;
}

/** What is needed to do a test from the screen. */
export interface Hands {
  readonly harness: Harness;
  /** The state that the vehicle is in. */
  readonly state: VehicleState;
  readonly onSeen: (body: SeenBody) => void;
  /** Puts the meter's leads there. */
  readonly onLeads: (observe: Extract<Observable, { kind: "volts" | "ohms" | "amps" }>) => void;
  /** Brings the vehicle into a state: what changes is recorded. */
  readonly onPrepare: (state: VehicleState) => void;
  /** Looks at the simulated vehicle, and records what it shows; answers with a message when it cannot. Undefined for a real one. */
  readonly look: ((state: VehicleState, observe: Observable, wrong: boolean) => Promise<string | undefined>) | undefined;
}

/** The buttons of one test: first the state, then the leads or the words. `onTake`: brings the state about and puts the leads there in one. */
export function DoTest({ test, hands, onTake }: { test: Test; hands: Hands; onTake?: () => void }) {
  const { observe: o } = test;
  const ready = describeState(test.state) === describeState(hands.state);
  const words = o.kind in RESULT_WORDS ? RESULT_WORDS[o.kind as keyof typeof RESULT_WORDS] : [];
  const isMeter = o.kind === "volts" || o.kind === "ohms" || o.kind === "amps";
  return (
    <Row>
      {onTake !== undefined && isMeter ? (
        <Button look="solid" onPress={onTake}>
          {ready ? "Use these leads" : "State is so, use these leads"} <kbd>n</kbd>
        </Button>
      ) : null}
      {ready || (onTake !== undefined && (isMeter || words.length > 0)) ? null : (
        <Button look="solid" onPress={() => hands.onPrepare(test.state)}>
          Vehicle set: {describeChange(hands.state, test.state, hands.harness)}
        </Button>
      )}
      {ready && isMeter && onTake === undefined ? (
        <Button look="solid" onPress={() => hands.onLeads(o)}>
          Use these leads
        </Button>
      ) : null}
      {/* On a simulated vehicle the colour is compared, behind the reading. */}
      {ready && hands.look === undefined
        ? colouredLeads(hands.harness, o).map((at) => (
            <Button
              key={at}
              onPress={() =>
                hands.onSeen({ state: test.state, observe: { kind: "check", at, what: WIRE_COLOUR }, word: "otherwise", wrong: false })
              }
            >
              {at} is not {coloursAt(hands.harness, at).join(", ")}
            </Button>
          ))
        : null}
      {ready && (o.kind === "live" || o.kind === "level") ? <Shown test={test} hands={hands} unit="V" /> : null}
      {ready && o.kind === "duty" ? <Shown test={test} hands={hands} unit="%" /> : null}
      {ready || onTake !== undefined
        ? words.map((w) => (
            <Button
              key={w}
              onPress={() => {
                // Who says what it does there has brought it about.
                if (!ready) hands.onPrepare(test.state);
                hands.onSeen({ state: test.state, observe: o, word: w, wrong: false });
              }}
            >
              {saidOn(w)}
            </Button>
          ))
        : null}
      {(ready || onTake !== undefined) && !isMeter ? <LookNow test={test} hands={hands} /> : null}
    </Row>
  );
}

/** Lets the simulated vehicle say what is to be seen, heard or felt. */
function LookNow({ test, hands }: { test: Test; hands: Hands }) {
  const [busy, setBusy] = useState(false);
  const { look } = hands;
  if (look === undefined) return null;
  const ask = async (): Promise<void> => {
    setBusy(true);
    if (describeState(test.state) !== describeState(hands.state)) hands.onPrepare(test.state);
    const message = await look(test.state, test.observe, false);
    setBusy(false);
    if (message !== undefined) toast(message);
  };
  return (
    <Button onPress={() => void ask()} isDisabled={busy}>
      Try it
    </Button>
  );
}

/** A value typed as it stands on the scan tool or the scope. */
function Shown({ test, hands, unit }: { test: Test; hands: Hands; unit: "V" | "%" }) {
  return (
    <OneLineForm
      label={`It says, ${unit}`}
      words="Keep"
      solid
      mono
      onSubmit={(text) => {
        const value = readGauge(text, unit);
        if (value === undefined) return unit === "V" ? "A number of volts, such as 4.98." : "A number of percent, such as 69.";
        hands.onSeen({ state: test.state, observe: test.observe, value, wrong: false });
        return undefined;
      }}
    />
  );
}
