import { addressedModules, emissionsModule, ENTITY_ADDRESS } from "@rheonom/core/codes";
import { hexOf } from "@rheonom/protocol/bytes";
import {
  ACTIVATION,
  createFramer,
  EMISSIONS_GROUP,
  encodeDoip,
  readDatagram,
  UNDELIVERED,
  vinBytes,
  type DoipMessage,
  type Framed,
} from "@rheonom/protocol/doip";
import { isObd } from "@rheonom/protocol/obd";
import { askEmissions } from "./emissions.ts";
import type { Memory } from "./memory.ts";
import { createModule, type Module } from "./module.ts";
import type { Identity } from "./values.ts";
import type { Worked, World } from "./world.ts";

/** Most payload that is taken, bytes. */
export const MOST_BYTES = 4096;
const MOST_SOCKETS = 4;
/** Functional address of all modules. */
export const ALL_MODULES = 0xe400;
const isTester = (address: number): boolean => address >= 0x0e00 && address <= 0x0fff;
/** A connection that is not activated within this, or says nothing for so long, is closed, ms (ISO 13400-2). */
const UNACTIVATED_MS = 2000;
const SILENT_MS = 300_000;
const ALIVE_MS = 500;
/** Activation types: default, and the one of WWH-OBD. */
const KNOWN_ACTIVATIONS = [0x00, 0x01];
/** Made up, of the locally administered kind. */
const EID = Uint8Array.of(0x02, 0x4e, 0x4c, 0x00, 0x00, 0x01);

/** What a connection does to its socket. */
export interface Line {
  readonly send: (bytes: Uint8Array) => void;
  readonly close: () => void;
  /** Calls back after so many ms, unless the line is gone by then. */
  readonly later: (ms: number, then: () => void) => void;
}

export interface Connection {
  readonly receive: (chunk: Uint8Array, nowMs: number) => void;
  readonly tick: (nowMs: number) => void;
  readonly closed: () => void;
}

/** The vehicle as a tester meets it on the network, without sockets. */
export interface Entity {
  /** The answer to a datagram; undefined when it gets none. */
  readonly datagram: (bytes: Uint8Array) => Uint8Array | undefined;
  readonly connect: (line: Line, nowMs: number) => Connection;
  readonly tick: (nowMs: number) => void;
}

interface Peer {
  readonly line: Line;
  source: number | undefined;
  isAlive: boolean;
}

export function createEntity(world: World, memory: Memory, who: Identity, sinceStartS: () => number): Entity {
  const worked = new Map<string, Worked>();
  const modules = new Map<number, Module>(
    addressedModules(world.harness).map(({ id, address }) => {
      const work = (pin: string, on: boolean | undefined): void => {
        if (on === undefined) worked.delete(`${id}.${pin}`);
        else worked.set(`${id}.${pin}`, { module: id, pin, on });
        world.setWorked([...worked.values()]);
      };
      return [address, createModule(id, world, memory, who, work)];
    }),
  );
  const emissions = emissionsModule(world.harness);
  const peers = new Set<Peer>();
  const announcement: DoipMessage = {
    type: "announcement",
    vin: vinBytes(who.vin),
    address: ENTITY_ADDRESS,
    eid: EID,
    gid: EID,
    furtherAction: 0,
    sync: 0,
  };
  const announced = encodeDoip(announcement);

  function datagram(bytes: Uint8Array): Uint8Array | undefined {
    const framed = readDatagram(bytes);
    if (framed.kind === "fault") return encodeDoip({ type: "header refused", code: framed.refusal });
    const m = framed.message;
    const vin = hexOf(vinBytes(who.vin));
    switch (m.type) {
      case "identify":
        return announced;
      case "identify by vin":
        return hexOf(m.vin) === vin ? announced : undefined;
      case "identify by eid":
        return hexOf(m.eid) === hexOf(EID) ? announced : undefined;
      case "status?":
        return encodeDoip({ type: "status", node: 0, mostSockets: MOST_SOCKETS, openSockets: peers.size, mostBytes: MOST_BYTES });
      case "power mode?":
        return encodeDoip({ type: "power mode", mode: world.state().key === "off" ? 0 : 1 });
      default:
        return undefined;
    }
  }

  function connect(line: Line, beganMs: number): Connection {
    const peer: Peer = { line, source: undefined, isAlive: true };
    const framer = createFramer(MOST_BYTES);
    let heardMs = beganMs;
    peers.add(peer);
    const leave = (): void => {
      peers.delete(peer);
    };
    const drop = (): void => {
      leave();
      line.close();
    };
    const say = (m: DoipMessage): void => line.send(encodeDoip(m));

    function activate(m: Extract<DoipMessage, { type: "activate" }>): void {
      const reply = (code: number): void => {
        say({ type: "activated", tester: m.source, entity: ENTITY_ADDRESS, code });
        if (code !== ACTIVATION.done) drop();
      };
      if (!isTester(m.source)) return reply(ACTIVATION.unknownSource);
      if (!KNOWN_ACTIVATIONS.includes(m.activation)) return reply(ACTIVATION.type);
      if (peer.source !== undefined && peer.source !== m.source) return reply(ACTIVATION.otherSource);
      const others = [...peers].filter((p) => p !== peer && p.source !== undefined);
      const same = others.filter((p) => p.source === m.source);
      const rivals = same.length > 0 ? same : others.length >= MOST_SOCKETS ? others : [];
      const accept = (): void => {
        peer.source = m.source;
        reply(ACTIVATION.done);
      };
      if (rivals.length === 0) return accept();
      // Whoever does not say that he is alive gives up his place.
      for (const r of rivals) {
        r.isAlive = false;
        r.line.send(encodeDoip({ type: "alive?" }));
      }
      line.later(ALIVE_MS, () => {
        const gone = rivals.filter((r) => !r.isAlive);
        for (const r of gone) {
          peers.delete(r);
          r.line.close();
        }
        if (gone.length > 0 && (same.length === 0 || gone.length === same.length)) accept();
        else reply(same.length > 0 ? ACTIVATION.sourceTaken : ACTIVATION.socketsTaken);
      });
    }

    function diagnose(m: Extract<DoipMessage, { type: "diagnostic" }>, nowMs: number): void {
      const refuse = (code: number): void =>
        say({ type: "not received", source: m.target, target: m.source, code, previous: new Uint8Array(0) });
      if (peer.source === undefined || peer.source !== m.source) {
        refuse(UNDELIVERED.source);
        return drop();
      }
      const isFunctional = m.target === EMISSIONS_GROUP || m.target === ALL_MODULES;
      if (!isFunctional && !modules.has(m.target)) return refuse(UNDELIVERED.unknownTarget);
      say({ type: "received", source: m.target, target: m.source, code: 0, previous: new Uint8Array(0) });
      const { answers } = world.now();
      for (const [address, module] of modules) {
        if (!isFunctional && address !== m.target) continue;
        if (m.target === EMISSIONS_GROUP && module.id !== emissions) continue;
        // A module without feed, ground or bus hears nothing and says nothing.
        if (!answers.has(module.id)) continue;
        const reply = (bytes: Uint8Array): void => say({ type: "diagnostic", source: address, target: m.source, data: bytes });
        if (isObd(m.data)) {
          const said = module.id === emissions ? askEmissions(m.data, module.id, world, memory, who, sinceStartS()) : undefined;
          if (said !== undefined) reply(said);
          continue;
        }
        for (const { afterMs, bytes } of module.ask(m.data, isFunctional, nowMs)) {
          if (afterMs === 0) reply(bytes);
          else line.later(afterMs, () => world.now().answers.has(module.id) && reply(bytes));
        }
      }
    }

    function take(framed: Framed, nowMs: number): void {
      if (framed.kind === "fault") {
        say({ type: "header refused", code: framed.refusal });
        if (framed.fatal) drop();
        return;
      }
      const m = framed.message;
      switch (m.type) {
        case "activate":
          return activate(m);
        case "alive":
          if (m.source === peer.source) peer.isAlive = true;
          return;
        case "diagnostic":
          return diagnose(m, nowMs);
        // What is only for datagrams, or comes from vehicles, gets no answer here.
        case "header refused":
        case "identify":
        case "identify by eid":
        case "identify by vin":
        case "announcement":
        case "activated":
        case "alive?":
        case "status?":
        case "status":
        case "power mode?":
        case "power mode":
        case "received":
        case "not received":
          return;
      }
    }

    return {
      receive: (chunk, nowMs) => {
        heardMs = nowMs;
        peer.isAlive = true;
        for (const framed of framer.push(chunk)) {
          if (!peers.has(peer)) return;
          take(framed, nowMs);
        }
      },
      tick: (nowMs) => {
        if (nowMs - heardMs > (peer.source === undefined ? UNACTIVATED_MS : SILENT_MS)) drop();
      },
      closed: leave,
    };
  }

  return {
    datagram,
    connect,
    tick: (nowMs) => {
      for (const m of modules.values()) m.tick(nowMs);
    },
  };
}
