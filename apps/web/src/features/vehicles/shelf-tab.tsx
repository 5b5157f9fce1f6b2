import { useState } from "react";
import { format } from "date-fns";
import { FileDown, FolderOpen } from "lucide-react";
import { Link } from "react-router";
import { shelfTaken } from "@rheonom/contract/shelf";
import { problem } from "@rheonom/contract/problem";
import { describeState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { describeLeads, type KnownGood } from "@rheonom/core/job";
import { api } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { useKnownGoodsQuery, useKnownGoodUsersQuery, useWithdrawKnownGoodMutation } from "../../api/shelf-api.ts";
import { valueWords } from "../../job/shelf/shelf-words.ts";
import { useAppDispatch, useAppSelector } from "../../job/store.ts";
import { buttonLink, Button } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { FileButton } from "../../ui/file-button.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { ShowMore, useMoreRows } from "../../ui/more-rows.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { toast } from "../../ui/toast.tsx";
import { styled } from "styled-components";
import { useVehicle } from "./vehicle-context.ts";

const Download = styled.a`
  ${buttonLink}
`;
const NONE: readonly KnownGood[] = [];

/** What good vehicles of this family showed. */
export function ShelfTab() {
  const { id, whole } = useVehicle();
  return <ShelfList vehicle={id} whole={whole} />;
}

/** What good vehicles of all families showed: also of circuits that belong to none of the shop's vehicles. */
export function ShelfScreen() {
  return (
    <Page>
      <h1>Known-goods</h1>
      <ShelfList vehicle="" whole={undefined} />
    </Page>
  );
}

/** One that was wrong is withdrawn here. `vehicle`: "" for all. */
function ShelfList({ vehicle, whole }: { vehicle: string; whole: Harness | undefined }) {
  const { data, error } = useKnownGoodsQuery(vehicle);
  const [withdrawing, setWithdrawing] = useState<KnownGood | undefined>(undefined);
  const items = data?.items ?? NONE;
  const { shown, ...more } = useMoreRows(items);
  return (
    <Panel style={{ padding: "var(--s3)" }}>
      <Row style={{ justifyContent: "space-between" }}>
        {vehicle === "" ? <span /> : <h2>Known-goods</h2>}
        <Row>
          <TakeIn />
          {items.length === 0 ? null : (
            <Download href={`/api/known-goods/file.zip${vehicle === "" ? "" : `?vehicle=${vehicle}`}`} download>
              <FileDown size={18} aria-hidden /> Export for another shop
            </Download>
          )}
        </Row>
      </Row>
      {error === undefined ? null : <Notice tone="danger">{failureOf(error).message}</Notice>}
      {data !== undefined && items.length === 0 ? (
        <p>
          Nothing yet. What a repaired vehicle shows when its repair is verified, and recordings on the Bench, are put here with one tap,
          and stand beside every reading of the same place from then on.
        </p>
      ) : (
        <Table>
          <caption>
            <Hidden>Known-goods, oldest first</Hidden>
          </caption>
          <thead>
            <tr>
              {vehicle === "" ? <th scope="col">Vehicle</th> : null}
              <th scope="col">Where</th>
              <th scope="col" className="n">
                Shows
              </th>
              <th scope="col">State</th>
              <th scope="col">Options</th>
              <th scope="col">With, by, when</th>
              <th scope="col">
                <Hidden>Withdraw</Hidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((i) => (
              <tr key={i.id} data-struck={i.withdrawn === null ? undefined : true}>
                {vehicle === "" ? <td>{i.vehicle}</td> : null}
                <th scope="row">{describeLeads(i.leads)}</th>
                <td className="n">{i.value === undefined ? (i.trace?.name ?? "recording") : valueWords(i.leads.quantity, i.value)}</td>
                <td>
                  {describeState(i.state, whole)}, {Math.round(i.state.temperatureC)} °C
                </td>
                <td>{i.options.join(", ") || "none"}</td>
                <td>
                  <Faint>
                    {i.instrument}; {i.by}
                    {i.from === "" ? "" : `, ${i.from}`}, {format(new Date(i.at), "d MMM yyyy")}
                    {i.note === "" ? "" : `; ${i.note}`}
                  </Faint>{" "}
                  {i.jobId === null ? null : <Link to={`/jobs/${i.jobId}/prove`}>its job</Link>}
                </td>
                <td>
                  {i.withdrawn === null ? (
                    <Button look="quiet" onPress={() => setWithdrawing(i)} aria-label={`Withdraw ${describeLeads(i.leads)}`}>
                      Withdraw
                    </Button>
                  ) : (
                    <Faint>
                      {i.withdrawn.why}, {i.withdrawn.by}
                    </Faint>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <ShowMore {...more} />
      {withdrawing === undefined ? null : <Withdraw item={withdrawing} onClose={() => setWithdrawing(undefined)} />}
    </Panel>
  );
}

/** Takes in the shelf of another shop. */
function TakeIn() {
  const dispatch = useAppDispatch();
  const [wrong, setWrong] = useState("");
  const take = async (file: File): Promise<void> => {
    setWrong("");
    const answer = await fetch("/api/known-goods/file.zip", {
      method: "POST",
      headers: { "content-type": "application/zip" },
      body: file,
    }).catch(() => undefined);
    const body: unknown = await answer?.json().catch(() => undefined);
    const taken = shelfTaken.safeParse(body);
    if (answer?.ok !== true || !taken.success)
      return setWrong(problem.safeParse(body).data?.message ?? "The server does not answer. Try again.");
    dispatch(api.util.invalidateTags(["shelf"]));
    toast(`${taken.data.added} new known-goods, ${taken.data.known} were here, ${taken.data.withdrawn} withdrawn.`);
  };
  return (
    <>
      <FileButton label="Known-goods of another shop" accept=".zip,application/zip" onFiles={([file]) => void take(file!)}>
        <FolderOpen size={18} aria-hidden /> Import from another shop
      </FileButton>
      {wrong === "" ? null : (
        <Notice tone="danger" role="alert">
          {wrong}
        </Notice>
      )}
    </>
  );
}

/** Whoever used it is named before it goes. */
function Withdraw({ item, onClose }: { item: KnownGood; onClose: () => void }) {
  const by = useAppSelector((s) => s.session.person);
  const [withdraw] = useWithdrawKnownGoodMutation();
  const { data, error } = useKnownGoodUsersQuery(item.id);
  const [failed, setFailed] = useState("");
  return (
    <Dialog title="Withdraw this known-good" isOpen onClose={onClose}>
      <p>
        {describeLeads(item.leads)}
        {item.value === undefined ? "" : `: ${valueWords(item.leads.quantity, item.value)}`}. It stands beside no reading any more, and
        whoever imports this shelf next withdraws it too.
      </p>
      {error === undefined ? null : <Notice tone="danger">{failureOf(error).message}</Notice>}
      {data === undefined ? (
        <p role="status">Looking for jobs that used it …</p>
      ) : data.users.length === 0 ? (
        <p>No job was held against it.</p>
      ) : (
        <Notice
          tone="caution"
          title={data.users.length === 1 ? "One job was held against it" : `${data.users.length} jobs were held against it`}
        >
          <ul>
            {data.users.map((u) => (
              <li key={`${u.jobId} ${u.at}`}>
                <Link to={`/jobs/${u.jobId}/trace`}>
                  {u.registration} {u.vehicle}
                </Link>
                : {u.what} ({u.by}, {format(new Date(u.at), "d MMM yyyy")})
              </li>
            ))}
          </ul>
        </Notice>
      )}
      {failed === "" ? null : <Notice tone="danger">{failed}</Notice>}
      <OneLineForm
        label="Why was it wrong?"
        words="Withdraw it"
        solid
        maxLength={300}
        onSubmit={(why) => {
          if (by === "") return "Say who you are first, at the top.";
          void withdraw({ id: item.id, by, why }).then((answer) => {
            if ("error" in answer) setFailed(failureOf(answer.error).message);
            else onClose();
          });
          return undefined;
        }}
      />
    </Dialog>
  );
}
