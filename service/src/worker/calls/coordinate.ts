import { Coordinator, type FinishedChunk, type JudgedChunk, type ResolvedChunk } from '@jade-fence/core/replay';
import { type ScopeParts, scopeOf } from './scope.js';

type PendingRows = Extract<JudgedChunk, { readonly pending: object }>['pending'];

const coordinators = new Map<string, { readonly coordinator: Coordinator; readonly laterFrom: Float64Array }>();

/** Opens the coordinator of a replay; `laterFrom` is each chunk's watermark: the earliest time of all rows behind it. */
export function openCoordinator(run: string, scope: ScopeParts, laterFrom: Float64Array): void {
  coordinators.set(run, { coordinator: new Coordinator(scopeOf(scope)), laterFrom });
}

/** Takes the rows of a chunk that wait, and answers the chunks that are resolved by that. */
export function resolveRows(run: string, number: number, pending: PendingRows): ResolvedChunk[] {
  const { coordinator, laterFrom } = coordinatorOf(run);
  return coordinator.rows(number, pending, (each) => laterFrom[each] as number);
}

/** Adds the counts of a chunk to those of its run. */
export function countChunk(run: string, number: number, counts: FinishedChunk['counts']): void {
  coordinatorOf(run).coordinator.count(number, counts);
}

/** The report of the replay, when all its chunks have been counted, as it is stored. */
export function replayReport(run: string): string {
  return JSON.stringify(coordinatorOf(run).coordinator.report());
}

/** Lets go of a run's counts. */
export function closeCoordinator(run: string): void {
  coordinators.delete(run);
}

function coordinatorOf(run: string) {
  const found = coordinators.get(run);
  if (found === undefined) throw new Error(`run ${run} is not open here`);
  return found;
}
