/** One figure beside the floor that it is measured against, both in the same run. */
export interface Figure {
  readonly name: string;
  /** The median. */
  readonly value: number;
  readonly unit: string;
  readonly floor: { readonly name: string; readonly value: number };
  /** `value` over `floor.value`. */
  readonly ratio: number;
  /** The slowest run over the fastest one, of the figure and of its floor: how noisy the machine was. */
  readonly spread: { readonly figure: number; readonly floor: number };
}

export interface Pair {
  readonly name: string;
  readonly unit: string;
  readonly figure: () => void | Promise<void>;
  readonly floorName: string;
  readonly floor: () => void | Promise<void>;
  /** How much one call does, to tell the value for one of it. Default 1. */
  readonly times?: number;
}

const WARM_UPS = 1;
const RUNS = 5;

/** Runs figure and floor in turn, so that both meet the same weather, and takes the medians, in milliseconds. */
export async function measure({ name, unit, figure, floorName, floor, times = 1 }: Pair): Promise<Figure> {
  const [figures, floors]: [number[], number[]] = [[], []];
  for (let run = -WARM_UPS; run < RUNS; run++) {
    const took = [await timed(figure), await timed(floor)] as const;
    if (run < 0) continue;
    figures.push(took[0] / times);
    floors.push(took[1] / times);
  }
  const [value, floorValue] = [median(figures), median(floors)];
  const spread = { figure: spreadOf(figures), floor: spreadOf(floors) };
  return { name, value, unit, floor: { name: floorName, value: floorValue }, ratio: value / floorValue, spread };
}

async function timed(work: () => void | Promise<void>): Promise<number> {
  const started = performance.now();
  await work();
  return performance.now() - started;
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] as number;
const spreadOf = (values: readonly number[]): number => Math.max(...values) / Math.min(...values);
