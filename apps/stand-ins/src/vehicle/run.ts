import { createSocket } from "node:dgram";
import { createServer, type Socket } from "node:net";
import { emissionsModule } from "@rheonom/core/codes";
import type { Fault, VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { startPermits } from "@rheonom/core/procedures";
import type { Command } from "./control.ts";
import { createEntity, type Connection } from "./entity.ts";
import { createMemory } from "./memory.ts";
import { freezeOf } from "./values.ts";
import { catches, createWorld } from "./world.ts";

export interface VehicleOptions {
  readonly harness: Harness;
  readonly faults: readonly Fault[];
  readonly state: VehicleState;
  readonly vin: string;
  readonly host: string;
  /** 0 for any that is free. */
  readonly port: number;
  readonly chance: () => number;
}

/** What can be told of the vehicle to whoever works it. */
export interface Told {
  readonly state: VehicleState;
  readonly moving: string | undefined;
  readonly answers: readonly string[];
}

export interface RunningVehicle {
  readonly port: number;
  readonly command: (command: Command) => Told;
  readonly stop: () => Promise<void>;
}

/** Connections at one time. */
const MOST_TESTERS = 64;
const TICK_MS = 100;
/** Ticks from one shake of what is moved to the next. */
const SHAKE_EVERY = 2;
const CRANK_MS = 1200;
/** What a driven cycle lasts for the monitors, s. */
const CYCLE_S = 120;

/** Brings the vehicle up on its ports: UDP for being found, TCP for diagnostics, both of one number. Rejects with the reason when they are taken. */
export async function runVehicle(o: VehicleOptions): Promise<RunningVehicle> {
  const world = createWorld(o.harness, o.faults, o.state, o.chance);
  const engine = emissionsModule(o.harness);
  const memory = createMemory(o.harness, engine, (module, now) => freezeOf(o.harness, module, now));
  let startedMs = performance.now();
  const entity = createEntity(world, memory, { vin: o.vin }, () => Math.floor((performance.now() - startedMs) / 1000));
  const open = new Map<Socket, Connection>();

  const server = createServer((socket) => {
    // A tester that is gone says so by an error; the close that follows does the rest.
    socket.on("error", () => undefined);
    socket.setNoDelay(true);
    const connection = entity.connect(
      {
        send: (bytes) => void (socket.writable && socket.write(bytes)),
        close: () => socket.end(),
        later: (ms, then) => void setTimeout(() => open.has(socket) && then(), ms),
      },
      performance.now(),
    );
    open.set(socket, connection);
    socket.on("data", (chunk) => connection.receive(chunk, performance.now()));
    socket.on("close", () => {
      open.delete(socket);
      connection.closed();
    });
  });
  server.maxConnections = MOST_TESTERS;
  await new Promise<void>((done, failed) => {
    server.once("error", failed);
    server.listen(o.port, o.host, done);
  });
  const address = server.address();
  const port = typeof address === "object" && address !== null ? address.port : o.port;
  const udp = createSocket("udp4");
  udp.on("message", (bytes, from) => {
    // The port of a sender may be forged as 0, to which nothing can be sent.
    const answer = from.port === 0 ? undefined : entity.datagram(bytes);
    if (answer !== undefined) udp.send(answer, from.port, from.address, () => undefined);
  });
  await new Promise<void>((done, failed) => {
    udp.once("error", failed);
    udp.bind(port, o.host, done);
  }).catch((error: unknown) => {
    server.close();
    throw error;
  });

  // What comes back for an answer that nobody takes is no reason to end.
  udp.on("error", () => undefined);
  const isOn = (): boolean => world.state().key === "run" || world.state().key === "crank";
  let ticks = 0;
  let last = performance.now();
  const timer = setInterval(() => {
    const now = performance.now();
    if (world.moving() !== undefined && ticks++ % SHAKE_EVERY === 0) world.shake();
    memory.tick((now - last) / 1000, world.now(), isOn());
    last = now;
    entity.tick(now);
    for (const c of open.values()) c.tick(now);
  }, TICK_MS);
  let cranking: ReturnType<typeof setTimeout> | undefined;

  function setState(state: VehicleState): void {
    if (state.engine !== world.state().engine) startedMs = performance.now();
    world.setState(state);
  }

  function command(c: Command): Told {
    // Another turn of the key ends the cranking; looking at it does not.
    if (c.do === "state" || c.do === "crank" || c.do === "drive") clearTimeout(cranking);
    switch (c.do) {
      case "state":
        setState(c.state);
        break;
      case "faults":
        world.setFaults(c.faults);
        break;
      case "move":
        world.setMoving(c.at);
        break;
      case "crank":
        {
          // Clutch down, in neutral: as whoever turns the key does it.
          const before = world.state().on;
          setState({ ...world.state(), key: "crank", engine: "cranking", on: [...new Set([...before, ...startPermits(o.harness)])] });
          cranking = setTimeout(() => {
            const runs = catches(world, engine);
            setState({ ...world.state(), key: "run", engine: runs ? "idling" : "stopped", on: before });
          }, CRANK_MS);
        }
        break;
      case "drive": {
        const before = world.state();
        for (let i = 0; i < c.cycles; i++) {
          world.setState({ ...before, key: "off", engine: "stopped" });
          memory.tick(1, world.now(), false);
          world.setState({ ...before, key: "run", engine: "idling" });
          for (let s = 0; s < CYCLE_S; s += 10) memory.tick(10, world.now(), true);
        }
        world.setState({ ...before, key: "off", engine: "stopped" });
        memory.tick(1, world.now(), false);
        world.setState(before);
        break;
      }
      case "tell":
        break;
    }
    return { state: world.state(), moving: world.moving(), answers: [...world.now().answers].sort() };
  }

  return {
    port,
    command,
    stop: async () => {
      clearInterval(timer);
      clearTimeout(cranking);
      for (const socket of open.keys()) socket.destroy();
      await Promise.all([new Promise<void>((done) => server.close(() => done())), new Promise<void>((done) => udp.close(() => done()))]);
    },
  };
}
