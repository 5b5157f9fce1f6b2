import { lazy, Suspense, useState } from "react";
import { Camera, Images } from "lucide-react";
import { styled } from "styled-components";
import { describeLeads, pairPictures, type PictureView as Picture } from "@rheonom/core/job";
import type { QueuedPicture } from "../../api/picture-queue.ts";
import { Button, Toggle } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { FileButton } from "../../ui/file-button.tsx";
import { Columns, Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Select } from "../../ui/select.tsx";
import { useJobContext } from "../job-context.ts";
import { PersonDialog } from "../person.tsx";
import { useAppSelector } from "../store.ts";
import { PictureView } from "./picture-view.tsx";
import { giveUpPicture, takePictures } from "./take-pictures.ts";

const PictureDialog = lazy(() => import("./picture-dialog.tsx"));

const Grid = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: var(--s3);
  align-items: start;
`;
const Tile = styled.li`
  display: grid;
  gap: var(--s1);
  min-width: 0;
  font-size: 0.9375rem;
`;
const Preview = styled.img`
  width: 100%;
  border-radius: var(--radius);
  opacity: 0.6;
`;
const Shown = styled.button`
  font: inherit;
  padding: 0;
  border: none;
  background: none;
  cursor: pointer;
  text-align: left;
  color: inherit;
`;
const WHENS = [
  { id: "before", text: "Before" },
  { id: "after", text: "After" },
] as const;
const ACCEPT = "image/*";
/** Readings that a picture can be tied to, the latest ones. */
const MOST_READINGS = 30;

/** Pictures of the job, before beside after: taken with the device's camera or chosen from its files, marked, and sent in the background. `at`: what they show unless somebody says otherwise. */
export function PicturesPanel({ at, when }: { at: string; when: "before" | "after" }) {
  const { job, record } = useJobContext();
  const person = useAppSelector((s) => s.session.person);
  const queue = useAppSelector((s) => s.pictures).filter((p) => p.said.jobId === job.id);
  const [said, setSaid] = useState<{ at?: string; when?: "before" | "after"; caption: string; reading: string }>({
    caption: "",
    reading: "",
  });
  const [isMore, setMore] = useState(false);
  const [opened, setOpened] = useState<string | undefined>(undefined);
  const [unnamed, setUnnamed] = useState<readonly File[]>([]);
  const pictures = pairPictures(job.view.pictures.filter((p) => p.struck === undefined));
  const isClosed = job.view.closed !== undefined;
  const take = (files: readonly File[], by: string): void => {
    const { reading, caption } = said;
    takePictures(files, {
      jobId: job.id,
      by,
      at: (said.at ?? at).trim(),
      when: said.when ?? when,
      caption: caption.trim(),
      ...(reading === "" ? {} : { reading }),
    });
    setSaid((s) => ({ ...s, caption: "", reading: "" }));
  };
  const onFiles = (files: readonly File[]): void => (person === "" ? setUnnamed(files) : take(files, person));
  const shown = pictures.find((p) => p.id === opened);
  const readings = job.view.readings.filter((r) => r.struck === undefined).slice(-MOST_READINGS);
  return (
    <Panel aria-label="Pictures">
      <Row style={{ justifyContent: "space-between" }}>
        <h2>Pictures</h2>
        {isClosed ? null : (
          <Row>
            <FileButton label="Picture from the camera" accept={ACCEPT} camera onFiles={onFiles}>
              <Camera size={18} aria-hidden /> Take picture
            </FileButton>
            <FileButton label="Picture files" accept={ACCEPT} multiple onFiles={onFiles}>
              <Images size={18} aria-hidden /> Choose files
            </FileButton>
          </Row>
        )}
      </Row>
      {isClosed ? null : (
        <>
          <Row style={{ alignItems: "end" }}>
            <Field label="Shows" value={said.at ?? at} onChange={(text) => setSaid((s) => ({ ...s, at: text }))} maxLength={80} mono grow />
            <Segmented
              label="Taken before or after the repair"
              hideLabel
              options={WHENS}
              value={said.when ?? when}
              onChange={(w) => setSaid((s) => ({ ...s, when: w }))}
            />
            <Toggle isSelected={isMore} onChange={setMore}>
              Caption
            </Toggle>
          </Row>
          {isMore ? (
            <Columns>
              <Field label="Caption" value={said.caption} onChange={(caption) => setSaid((s) => ({ ...s, caption }))} maxLength={300} />
              {readings.length === 0 ? null : (
                <Select
                  label="Of the reading"
                  options={[
                    { id: "", text: "None" },
                    ...readings.map((r) => ({ id: r.id, text: `${describeLeads(r.data.leads)}: ${r.data.text}` })).reverse(),
                  ]}
                  value={said.reading}
                  onChange={(reading) => setSaid((s) => ({ ...s, reading }))}
                />
              )}
            </Columns>
          ) : null}
        </>
      )}
      {queue.flatMap((p) =>
        p.refused === undefined ? [] : [<Refused key={p.id} name={p.name} message={p.refused} onRead={() => giveUpPicture(p.id)} />],
      )}
      {pictures.length + queue.length === 0 ? (
        <Faint>None yet. Pictures go on the report: green copper before, the new terminal after.</Faint>
      ) : (
        <Grid aria-label="Pictures of this job">
          {pictures.map((p) => (
            <Kept
              key={p.id}
              picture={p}
              isClosed={isClosed}
              onOpen={() => setOpened(p.id)}
              onStrike={() => record({ type: "struck", data: { target: p.id, why: "recorded in error" } })}
            />
          ))}
          {queue.flatMap((p) => (p.refused === undefined ? [<Sending key={p.id} picture={p} />] : []))}
        </Grid>
      )}
      {shown === undefined ? null : (
        <Suspense fallback={<p role="status">Opening the picture …</p>}>
          <PictureDialog key={shown.id} picture={shown} onClose={() => setOpened(undefined)} />
        </Suspense>
      )}
      <PersonDialog isOpen={unnamed.length > 0} onClose={() => setUnnamed([])} onNamed={(name) => take(unnamed, name)} />
    </Panel>
  );
}

function Kept({ picture, isClosed, onOpen, onStrike }: { picture: Picture; isClosed: boolean; onOpen: () => void; onStrike: () => void }) {
  const { data, marks } = picture;
  const words = [data.when === "before" ? "Before" : "After", data.at].filter((w) => w !== "").join(", ");
  const view = <PictureView picture={{ ...data, marks }} size="thumbnail" alt={`${words}. ${data.caption}`} />;
  return (
    <Tile>
      {isClosed ? (
        view
      ) : (
        <Shown type="button" onClick={onOpen} aria-label={`Mark the picture: ${words}`}>
          {view}
        </Shown>
      )}
      <span>
        <strong>{words}</strong> {data.caption}
      </span>
      {isClosed ? null : (
        <Row>
          <Button look="quiet" onPress={onOpen}>
            Mark
          </Button>
          <Button look="quiet" onPress={onStrike}>
            Strike
          </Button>
        </Row>
      )}
    </Tile>
  );
}

function Sending({ picture: { id, preview, said, sent, isKept } }: { picture: QueuedPicture }) {
  return (
    <Tile>
      {preview === "" ? null : <Preview src={preview} alt={`On its way: ${said.at}`} />}
      <progress aria-label="Sent" value={sent} max={1} style={{ width: "100%" }} />
      <Row>
        <Faint role="status">{!isKept ? "On this page only; leave it open" : sent >= 1 ? "Being stored …" : "On its way …"}</Faint>
        <Button look="quiet" onPress={() => giveUpPicture(id)}>
          Give up
        </Button>
      </Row>
    </Tile>
  );
}

function Refused({ name, message, onRead }: { name: string; message: string; onRead: () => void }) {
  return (
    <Notice tone="danger" role="alert" title={name === "" ? "A picture was not taken" : `${name} was not taken`}>
      {message} <Button onPress={onRead}>Read</Button>
    </Notice>
  );
}
