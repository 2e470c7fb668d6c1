import { type FinishedChunk, Gatherer, type JudgedChunk, type SettledChunk } from '@jade-fence/core/replay';
import { type ScopeParts, scopeOf } from './scope.js';

type WaitingRows = Extract<JudgedChunk, { readonly waiting: object }>['waiting'];

const gatherers = new Map<string, { readonly gatherer: Gatherer; readonly laterFrom: Float64Array }>();

/** Makes ready to gather a replay; `laterFrom` tells for each chunk the earliest time of all behind it. */
export function openGatherer(run: string, scope: ScopeParts, laterFrom: Float64Array): void {
  gatherers.set(run, { gatherer: new Gatherer(scopeOf(scope)), laterFrom });
}

/** Takes the rows of a chunk that wait, and answers the chunks that are settled by that. */
export function gatherRows(run: string, number: number, waiting: WaitingRows): SettledChunk[] {
  const { gatherer, laterFrom } = gathererOf(run);
  return gatherer.rows(number, waiting, (each) => laterFrom[each] as number);
}

/** Adds the counts of a chunk to those of its run. */
export function countChunk(run: string, number: number, counts: FinishedChunk['counts']): void {
  gathererOf(run).gatherer.count(number, counts);
}

/** The report of the replay, when all its chunks have been counted, as it is stored. */
export function replayReport(run: string): string {
  return JSON.stringify(gathererOf(run).gatherer.report());
}

/** Lets go of a run's counts. */
export function closeGatherer(run: string): void {
  gatherers.delete(run);
}

function gathererOf(run: string) {
  const found = gatherers.get(run);
  if (found === undefined) throw new Error(`run ${run} is not open here`);
  return found;
}
