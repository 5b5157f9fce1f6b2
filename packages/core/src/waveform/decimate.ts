/** Least and most of each stretch of samples, one after the other: min, max, min, max … NaN where a stretch holds nothing but gaps. */
export type Envelope = Float32Array;

/** Stretches that a drawing has: `[from, to)` is cut into at most `columns`. What lies in a stretch is between its two numbers, so that no spike is lost. */
export function envelopeOf(samples: Float32Array, from: number, to: number, columns: number): Envelope {
  const count = Math.max(0, Math.min(columns, to - from));
  const made = new Float32Array(2 * count);
  for (let c = 0; c < count; c++) {
    const [begin, end] = [from + Math.floor((c * (to - from)) / count), from + Math.floor(((c + 1) * (to - from)) / count)];
    let [min, max] = [NaN, NaN];
    for (let i = begin; i < end; i++) {
      const v = samples[i]!;
      // Comparisons with NaN are false: the first number takes its place, a gap never does.
      if (!(v >= min)) min = Number.isNaN(v) ? min : v;
      if (!(v <= max)) max = Number.isNaN(v) ? max : v;
    }
    made[2 * c] = min;
    made[2 * c + 1] = max;
  }
  return made;
}

/** An envelope at several finenesses, so that the visible part of millions of samples is drawn from thousands of numbers. */
export interface Pyramid {
  readonly samples: Float32Array;
  /** `levels[k]` has the least and most of every BLOCK · 2^k samples. */
  readonly levels: readonly Float32Array[];
}

/** Samples of a block of the finest level. */
const BLOCK = 64;

/** Envelopes of a channel, each half as fine as the one before. */
export function pyramidOf(samples: Float32Array): Pyramid {
  const levels: Float32Array[] = [];
  let blocks = Math.ceil(samples.length / BLOCK);
  if (blocks > 1) {
    const finest = new Float32Array(2 * blocks);
    for (let b = 0; b < blocks; b++) finest.set(envelopeOf(samples, b * BLOCK, Math.min(samples.length, (b + 1) * BLOCK), 1), 2 * b);
    levels.push(finest);
  }
  while (blocks > 2) {
    const below = levels.at(-1)!;
    blocks = Math.ceil(blocks / 2);
    const made = new Float32Array(2 * blocks);
    for (let b = 0; b < blocks; b++) {
      made[2 * b] = leastOf(below[4 * b]!, below[4 * b + 2]);
      made[2 * b + 1] = mostOf(below[4 * b + 1]!, below[4 * b + 3]);
    }
    levels.push(made);
  }
  return { samples, levels };
}

const leastOf = (a: number, b = NaN): number => (Number.isNaN(a) ? b : Number.isNaN(b) ? a : Math.min(a, b));
const mostOf = (a: number, b = NaN): number => (Number.isNaN(a) ? b : Number.isNaN(b) ? a : Math.max(a, b));

/** What `envelopeOf` gives, from the coarsest level that is still finer than a column. Edges of columns may lie within a block: an extreme may then stand a column beside its own. */
export function visibleOf({ samples, levels }: Pyramid, from: number, to: number, columns: number): Envelope {
  const perColumn = (to - from) / columns;
  const level = Math.min(levels.length - 1, Math.floor(Math.log2(perColumn / (2 * BLOCK))));
  if (level < 0) return envelopeOf(samples, from, to, columns);
  const size = BLOCK * 2 ** level;
  const blocks = levels[level]!;
  const made = new Float32Array(2 * columns);
  for (let c = 0; c < columns; c++) {
    const begin = Math.floor((from + c * perColumn) / size);
    const end = Math.min(blocks.length / 2, Math.max(begin + 1, Math.floor((from + (c + 1) * perColumn) / size)));
    let [min, max] = [NaN, NaN];
    for (let b = begin; b < end; b++) {
      min = leastOf(min, blocks[2 * b]);
      max = mostOf(max, blocks[2 * b + 1]);
    }
    made[2 * c] = min;
    made[2 * c + 1] = max;
  }
  return made;
}
