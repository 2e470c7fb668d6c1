import { type FinishedChunk, Gatherer, type JudgedChunk, type SettledChunk } from '@jade-fence/core';
import { type ScopeParts, scopeOf } from './scope.js';

type WaitingRows = Extract<JudgedChunk, { readonly waiting: object }>['waiting'];

const gatherers = new Map<number, { readonly gatherer: Gatherer; readonly laterFrom: Float64Array }>();

/** Makes ready to gather a replay; `laterFrom` tells for each chunk the earliest time of all behind it. */
export function openGatherer(replay: number, scope: ScopeParts, laterFrom: Float64Array): void {
  gatherers.set(replay, { gatherer: new Gatherer(scopeOf(scope)), laterFrom });
}

/** Takes the rows of a chunk that wait, and answers the chunks that are settled by that. */
export function gatherRows(replay: number, number: number, waiting: WaitingRows): SettledChunk[] {
  const { gatherer, laterFrom } = gathererOf(replay);
  return gatherer.rows(number, waiting, (each) => laterFrom[each] as number);
}

export function countChunk(replay: number, number: number, counts: FinishedChunk['counts']): void {
  gathererOf(replay).gatherer.count(number, counts);
}

/** The report of the replay, when all its chunks have been counted, as it is stored. */
export function replayReport(replay: number): string {
  return JSON.stringify(gathererOf(replay).gatherer.report());
}

export function closeGatherer(replay: number): void {
  gatherers.delete(replay);
}

function gathererOf(replay: number) {
  const found = gatherers.get(replay);
  if (found === undefined) throw new Error(`replay ${replay} is not open here`);
  return found;
}
