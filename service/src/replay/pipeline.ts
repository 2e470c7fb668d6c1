import type { LogFilter } from '@jade-fence/core/replay';
import type { PackedChunk } from '../worker/calls/judge.js';
import type { ScopeParts } from '../worker/calls/scope.js';
import type { WorkerPool } from '../worker/pool.js';
import type { Thread } from '../worker/thread.js';

/** A chunk of a log that is to be judged. */
export interface SourceChunk {
  readonly logId: number;
  readonly number: number;
  readonly rows: number;
  /** Milliseconds since 1970; −Infinity where it is not known, Infinity where no request has a time. */
  readonly firstTime: number;
}

export interface PipelineOrder {
  /** Another name for each time that a replay is begun: an attempt may still be coming to its end beside the next. */
  readonly run: string;
  readonly scope: ScopeParts;
  readonly only: LogFilter | undefined;
  readonly chunks: readonly SourceChunk[];
  readonly signal: AbortSignal;
  /** Reads a chunk as it is stored. */
  readonly read: (chunk: SourceChunk) => Promise<Uint8Array>;
  /** Keeps the verdicts of the chunk at the place. */
  readonly keep: (place: number, chunk: SourceChunk, verdicts: PackedChunk) => Promise<void>;
}

/** This many chunks of a worker are in flight, so that it judges one while others are read and stored. */
const LANES = 3;

/**
 * Replays chunks on the workers, and answers the report. Chunks are read in order and judged as workers are free; one of
 * them also coordinates: it goes through the chunks in order, resolves limits, and sends those that have waited back to who
 * judged them.
 */
export async function replayChunks(pool: WorkerPool, order: PipelineOrder): Promise<string> {
  const { run, scope, only, chunks, signal, read, keep } = order;
  // Each of them prepares the workspace for itself, so that a short log has few.
  const workers = pool.team(chunks.length);
  const coordinator = workers[0] as Thread;
  const judgedBy: Thread[] = [];
  let next = 0;

  const finish = async (chunk: PackedChunk) => {
    await all([
      coordinator.call('countChunk', [run, chunk.number, chunk.counts]),
      keep(chunk.number, chunks[chunk.number] as SourceChunk, chunk),
    ]);
  };
  const judge = async (worker: Thread, place: number) => {
    judgedBy[place] = worker;
    const judged = await worker.call('judgeChunk', [run, place, await read(chunks[place] as SourceChunk)]);
    if ('packed' in judged) await finish(judged);
    const pending = 'packed' in judged ? [] : judged.pending;
    const resolved = await coordinator.call('resolveRows', [run, place, pending]);
    await all(
      resolved.map(async (each) => finish(await (judgedBy[each.number] as Thread).call('resolveChunk', [run, each]))),
    );
  };
  const lane = async (worker: Thread) => {
    while (next < chunks.length && !signal.aborted) await judge(worker, next++);
  };
  const open = { ...scope, only };
  try {
    await Promise.all([
      coordinator.call('openCoordinator', [run, open, laterTimes(chunks)]),
      ...workers.map((worker, number) => worker.call('openJudge', [run, open, number])),
    ]);
    const lanes = workers.flatMap((worker) => Array.from({ length: LANES }, () => lane(worker).catch(stopAll)));
    await all(lanes);
    return signal.aborted ? '' : await coordinator.call('replayReport', [run]);
  } finally {
    await Promise.allSettled([
      coordinator.call('closeCoordinator', [run]),
      ...workers.map((worker) => worker.call('closeJudge', [run])),
    ]);
  }

  function stopAll(error: unknown): never {
    next = chunks.length;
    throw error;
  }
}

/** Waits for all, also where one fails, so that nothing of a replay that failed goes on behind its back. */
async function all(works: readonly Promise<unknown>[]): Promise<void> {
  const failed = (await Promise.allSettled(works)).find((each) => each.status === 'rejected');
  if (failed) throw failed.reason;
}

/** For each chunk the earliest time of all behind it. */
function laterTimes(chunks: readonly SourceChunk[]): Float64Array {
  const later = new Float64Array(chunks.length);
  let earliest = Number.POSITIVE_INFINITY;
  for (let place = chunks.length - 1; place >= 0; place--) {
    later[place] = earliest;
    earliest = Math.min(earliest, (chunks[place] as SourceChunk).firstTime);
  }
  return later;
}
