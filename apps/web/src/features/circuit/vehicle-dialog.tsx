import { useMemo, useState } from "react";
import { Link } from "react-router";
import { diffHarness, resolveVariant } from "@rheonom/core/harness";
import { parseNotation, printNotation } from "@rheonom/core/notation";
import type { JobView } from "@rheonom/core/job";
import { useHarnessQuery, useVehicleQuery } from "../../api/api.ts";
import { useChosenVehicle } from "../../job/use-chosen-vehicle.ts";
import { DifferenceList } from "../../notation/difference-list.tsx";
import { Button, Toggle } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

/** The vehicle, version and options that a job's circuit was taken from. */
export type VehiclePin = NonNullable<NonNullable<JobView["circuit"]>["vehicle"]>;

export interface VehicleDialogProps {
  readonly isOpen: boolean;
  readonly onClose: () => void;
  readonly onTake: (pin: VehiclePin, notation: string) => void;
}

/** Takes the wiring of a kept vehicle into the job, with the options that this vehicle has. */
export function VehicleDialog({ isOpen, onClose, onTake }: VehicleDialogProps) {
  return (
    <Dialog title="Circuit of a vehicle" isOpen={isOpen} onClose={onClose}>
      {isOpen ? <Choose onClose={onClose} onTake={onTake} /> : null}
    </Dialog>
  );
}

function Choose({ onClose, onTake }: Omit<VehicleDialogProps, "isOpen">) {
  const { vehicles, isListed, id, version, choose, all, options, toggle, failed, wiring } = useChosenVehicle();
  return (
    <>
      {failed === undefined ? null : <Notice tone="danger">{failed}</Notice>}
      <Select
        label="Vehicle"
        value={id}
        options={vehicles}
        onChange={choose}
        isDisabled={vehicles.length === 0}
        placeholder={vehicles.length > 0 ? "Choose" : isListed ? "No vehicle yet" : "Fetching the vehicles …"}
      />
      {all.length === 0 ? null : (
        <>
          <strong>What this one has</strong>
          <Row>
            {all.map((o) => (
              <Toggle key={o.id} isSelected={options.includes(o.id)} onChange={(on) => toggle(o.id, on)}>
                {o.text}
              </Toggle>
            ))}
          </Row>
        </>
      )}
      <Row style={{ justifyContent: "flex-end" }}>
        <Button onPress={onClose}>Cancel</Button>
        <Button
          look="solid"
          isDisabled={wiring === undefined}
          onPress={() => {
            onTake(wiring!.vehicle!, wiring!.notation);
            onClose();
          }}
        >
          Use version {version === 0 ? "" : version}
        </Button>
      </Row>
    </>
  );
}

/** Which version the job stands on, and, when a newer one is out, what moving to it would change. */
export function Pinned({ pin, text, onMove }: { pin: VehiclePin; text: string; onMove: (pin: VehiclePin, notation: string) => void }) {
  const heads = useVehicleQuery(pin.id);
  const latest = heads.data?.versions[0]?.version;
  const isNewer = latest !== undefined && latest > pin.version;
  const wiring = useHarnessQuery({ id: pin.id, version: latest ?? 0 }, { skip: !isNewer });
  const [isOpen, setOpen] = useState(false);
  const next = useMemo(
    () => (wiring.data === undefined ? undefined : resolveVariant(wiring.data.harness, pin.options)),
    [wiring.data, pin.options],
  );
  const differences = useMemo(() => {
    const now = isOpen ? parseNotation(text).harness : undefined;
    return now === undefined || next === undefined ? undefined : diffHarness(now, next);
  }, [isOpen, text, next]);
  return (
    <>
      <Faint>
        <Link to={`/vehicles/${pin.id}/circuit?v=${pin.version}&o=${pin.options.join(",")}`}>{pin.id}</Link> version {pin.version}
        {pin.options.length === 0 ? "" : `, ${pin.options.join(", ")}`}
      </Faint>
      {isNewer ? <Button onPress={() => setOpen(true)}>Version {latest} is out</Button> : null}
      <Dialog title={`From version ${pin.version} to ${latest ?? ""}`} isOpen={isOpen} onClose={() => setOpen(false)} wide>
        <p style={{ margin: 0 }}>
          The job stays on version {pin.version} until you move it. Changes made by hand in this job are lost by moving.
        </p>
        {differences === undefined ? (
          <Faint>The present text has errors, so that the difference cannot be shown.</Faint>
        ) : (
          <DifferenceList differences={differences} />
        )}
        <Row style={{ justifyContent: "flex-end" }}>
          <Button onPress={() => setOpen(false)}>Stay</Button>
          <Button
            look="solid"
            isDisabled={next === undefined}
            onPress={() => {
              onMove({ ...pin, version: latest! }, printNotation(next!));
              setOpen(false);
            }}
          >
            Move to version {latest}
          </Button>
        </Row>
      </Dialog>
    </>
  );
}
