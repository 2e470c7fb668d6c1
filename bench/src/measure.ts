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
  readonly figure: () => unknown | Promise<unknown>;
  readonly floorName: string;
  readonly floor: () => unknown | Promise<unknown>;
  /** How many times of its work one call of the figure does. Default 1. */
  readonly times?: number;
  /** The same of the floor, where that is so slow that a sample has to do. Default as `times`. */
  readonly floorTimes?: number;
}

/** The first rounds are for the compiler. */
const WARM_UPS = 2;
const RUNS = 5;

/** Runs figure and floor in turn, so that both meet the same weather, and takes the medians, in milliseconds. */
export async function measure(pair: Pair): Promise<Figure> {
  const { times = 1, floorTimes = times } = pair;
  const figures: number[] = [];
  const floors: number[] = [];
  for (let run = -WARM_UPS; run < RUNS; run++) {
    const took = [await timed(pair.figure), await timed(pair.floor)] as const;
    if (run < 0) continue;
    figures.push(took[0] / times);
    floors.push(took[1] / floorTimes);
  }
  return figureOf(pair, figures, floors);
}

/** A figure from values that were measured one by one, whatever they are values of. */
export function figureOf(
  { name, unit, floorName }: Pick<Pair, 'name' | 'unit' | 'floorName'>,
  figures: readonly number[],
  floors: readonly number[],
): Figure {
  const [value, floorValue] = [median(figures), median(floors)];
  const spread = { figure: spreadOf(figures), floor: spreadOf(floors) };
  return { name, value, unit, floor: { name: floorName, value: floorValue }, ratio: value / floorValue, spread };
}

/** How many milliseconds the work takes. */
export async function timed(work: () => unknown | Promise<unknown>): Promise<number> {
  const started = performance.now();
  await work();
  return performance.now() - started;
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] as number;
const spreadOf = (values: readonly number[]): number => Math.max(...values) / Math.min(...values);
