import { fromInstrument, type ToInstrument } from "@rheonom/contract/instrument";
import { parsedJson } from "../../api/parsed-json.ts";
import type { InstrumentKind, InstrumentPort, Told } from "./port.ts";

type Target = Extract<ToInstrument, { type: "connect" }>["target"];

/** The name of an instrument, from what it says it is. */
const nameOf = ({ maker, model, serial }: { readonly maker: string; readonly model: string; readonly serial: string }): string =>
  [maker, model, serial].filter((t) => t !== "" && t !== "0").join(" ") || "Instrument without a name";

/** A line through the server to an instrument on the workshop's network, or to a simulated one. */
export function openServerPort(jobId: string, what: InstrumentKind, target: Target, tell: (told: Told) => void): InstrumentPort {
  const socket = new WebSocket(`${location.origin.replace(/^http/, "ws")}/api/jobs/${jobId}/instrument`);
  socket.binaryType = "arraybuffer";
  let isOurs = false;
  const send = (m: ToInstrument): void => {
    if (socket.readyState === WebSocket.OPEN) socket.send(JSON.stringify(m));
  };
  socket.addEventListener("open", () => send({ type: "connect", what, target }));
  socket.addEventListener("message", ({ data }) => {
    if (data instanceof ArrayBuffer) return tell({ type: "recorded", packed: data });
    const read = fromInstrument.safeParse(parsedJson(String(data)));
    if (!read.success) return;
    const m = read.data;
    switch (m.type) {
      case "connected":
        return tell({ type: "connected", what: m.what, name: nameOf(m.identity) });
      case "reading":
        return tell({ type: "reading", function: m.function, said: m.said });
      case "says":
        return tell({ type: "says", text: m.text });
      case "recorded":
        return;
      case "disconnected":
        return tell({ type: "lost", message: m.message });
      case "failed":
        return tell({ type: "failed", message: m.message });
    }
  });
  socket.addEventListener("close", () => {
    if (!isOurs) tell({ type: "lost", message: "The line to the server is lost. Connect again." });
  });
  return {
    read: (f) => send({ type: "read", function: f }),
    pause: () => send({ type: "pause" }),
    leads: (leads, state, moving) => send({ type: "leads", leads: [...leads], state, ...(moving === undefined ? {} : { moving }) }),
    record: (channels, seconds, points) => send({ type: "record", channels: [...channels], seconds, points }),
    close: () => {
      isOurs = true;
      socket.close();
    },
  };
}
