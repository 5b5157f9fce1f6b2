import { type Element, type Netlist, type Point, startingStates, type Wave } from "../../solver/index.ts";

/** Names that SPICE takes: letters, digits and underscores; ends apart, "BAT.+" becomes "BAT_p". Distinct names stay distinct. */
function createNamer(): (name: string) => string {
  const given = new Map<string, string>();
  const taken = new Set<string>();
  return (name) => {
    const known = given.get(name);
    if (known !== undefined) return known;
    const plain = name
      .replace(/\+/g, "p")
      .replace(/-/g, "n")
      .replace(/[^A-Za-z0-9_#]/g, "_");
    let free = plain;
    for (let i = 2; taken.has(free.toLowerCase()); i++) free = `${plain}_${i}`;
    taken.add(free.toLowerCase());
    given.set(name, free);
    return free;
  };
}

/** A number that is read back as the same: the shortest one that is. */
const num = (v: number): string => String(v);

function waveText(wave: Wave): string {
  switch (wave.kind) {
    case "pulse":
      return `PULSE(${[wave.low, wave.high, wave.delayS, wave.riseS, wave.fallS, wave.widthS, wave.periodS].map(num).join(" ")})`;
    case "sine":
      return `SIN(${[wave.offset, wave.amplitude, wave.hertz, wave.delayS, wave.dampingPerS].map(num).join(" ")})`;
    case "corners":
      return `PWL(${wave.points.flat().map(num).join(" ")})`;
  }
}

export interface SpicePrint {
  readonly text: string;
  /** The name in the text of every node, by node index. */
  readonly nodeNames: readonly string[];
  /** The name in the text of the current of every element that has one there (sources, inductors), by element id. */
  readonly branchNames: ReadonlyMap<string, string>;
}

/**
 * Writes a netlist as SPICE text; reading that text gives the same circuit (apart from curves, which are written as B sources for other programs).
 * `states`: a point of the netlist, whose switch states are written; without it those before anything has happened.
 */
export function printSpice(netlist: Netlist, title: string, analysis = ".op", states?: Pick<Point, "closed">): SpicePrint {
  const held = states?.closed ?? startingStates(netlist);
  const nodeNamer = createNamer();
  const elementNamer = createNamer();
  const nodeNames = netlist.nodes.map((n, i) => (i === 0 ? "0" : nodeNamer(n === "0" ? "n0" : n)));
  const branchNames = new Map<string, string>();
  const models: string[] = [];
  const lines: string[] = [];
  /** An element's name must begin with the letter of its kind. */
  const named = (letter: string, id: string): string => {
    const plain = elementNamer(id);
    return plain[0]!.toLowerCase() === letter.toLowerCase() ? plain : elementNamer(`${letter}_${id}`);
  };
  const inductorNames = new Map<string, string>();
  netlist.elements.forEach((e, i) => lines.push(...elementLines(e, i)));
  for (const c of netlist.couplings ?? [])
    lines.push(`${named("K", c.id)} ${inductorNames.get(c.first)} ${inductorNames.get(c.second)} ${num(c.factor)}`);
  const text = [`* ${title.replace(/[\r\n]+/g, " ")}`, ...lines, ...models, analysis, ".end", ""].join("\n");
  return { text, nodeNames, branchNames };

  function elementLines(e: Element, index: number): string[] {
    const [a, b] = [nodeNames[e.a]!, nodeNames[e.b]!];
    switch (e.kind) {
      case "resistor":
        return [`${named("R", e.id)} ${a} ${b} ${num(e.ohms)}`];
      case "capacitor":
        return [`${named("C", e.id)} ${a} ${b} ${num(e.farads)}${e.initialVolts === undefined ? "" : ` IC=${num(e.initialVolts)}`}`];
      case "inductor": {
        const name = named("L", e.id);
        inductorNames.set(e.id, name);
        branchNames.set(e.id, name);
        return [`${name} ${a} ${b} ${num(e.henries)}${e.initialAmps === undefined ? "" : ` IC=${num(e.initialAmps)}`}`];
      }
      case "source": {
        const name = named("V", e.id);
        branchNames.set(e.id, name);
        const course = e.wave === undefined ? "" : ` ${waveText(e.wave)}`;
        if (e.internalOhms === 0) return [`${name} ${a} ${b} DC ${num(e.volts)}${course}`];
        const inner = nodeNamer(`${e.id}#inner`);
        return [
          `${name} ${inner} ${b} DC ${num(e.volts)}${course}`,
          `${named("R", `R_${e.id}_inner`)} ${a} ${inner} ${num(e.internalOhms)}`,
        ];
      }
      case "current":
        return [`${named("I", e.id)} ${a} ${b} DC ${num(e.amps)}${e.wave === undefined ? "" : ` ${waveText(e.wave)}`}`];
      case "diode": {
        const model = `D${models.length + 1}M`;
        models.push(`.model ${model} D(IS=${num(e.saturationAmps)} N=${num(e.emission)})`);
        return [`${named("D", e.id)} ${a} ${b} ${model}`];
      }
      case "switch": {
        // A plain watcher is a SPICE switch. Anything wider stands as the resistance it has in the state that was asked for.
        if (e.rule.kind !== "watcher" || e.rule.eitherWay === true) {
          const closed = held[index] === 1;
          return [
            `* ${e.id.replace(/[\r\n]+/g, " ")} is ${closed ? "closed" : "open"} here`,
            `${named("R", e.id)} ${a} ${b} ${num(closed ? e.onOhms : e.offOhms)}`,
          ];
        }
        const { plus, minus, rises, falls } = e.rule;
        const model = `S${models.length + 1}M`;
        models.push(
          `.model ${model} SW(VT=${num((rises + falls) / 2)} VH=${num((rises - falls) / 2)} RON=${num(e.onOhms)} ROFF=${num(e.offOhms)})`,
        );
        return [`${named("S", e.id)} ${a} ${b} ${nodeNames[plus]} ${nodeNames[minus]} ${model}${held[index] === 1 ? " ON" : ""}`];
      }
      case "curve":
        return [`${named("B", e.id)} ${a} ${b} I=${e.text.replaceAll("V(a,b)", `V(${a},${b})`)}`];
    }
  }
}
