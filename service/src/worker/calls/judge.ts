import {
  ChunkJudge,
  type ClientBlooms,
  clientBlooms,
  type FinishedChunk,
  type SettledChunk,
  summariseVerdicts,
  type VerdictSummary,
} from '@jade-fence/core';
import { packTable, unpackTable } from '../../log/packing.js';
import { type ScopeParts, scopeOf } from './scope.js';

/** A finished chunk, its verdicts as they are stored. */
export interface PackedChunk extends Omit<FinishedChunk, 'verdicts'> {
  readonly rows: number;
  readonly packed: Uint8Array;
  readonly summary: VerdictSummary;
  readonly clients: ClientBlooms;
}

type Judged = ReturnType<ChunkJudge['judge']>;

const judges = new Map<number, ChunkJudge>();

/** Makes ready to judge chunks of a replay. */
export function openJudge(replay: number, scope: ScopeParts): void {
  judges.set(replay, new ChunkJudge(scopeOf(scope)));
}

/** Judges a chunk as it is stored. */
export function judgeChunk(
  replay: number,
  number: number,
  packed: Uint8Array,
): PackedChunk | Extract<Judged, { readonly waiting: object }> {
  const judged = judgeOf(replay).judge(number, unpackTable(packed));
  return 'waiting' in judged ? judged : packedChunk(judged);
}

/** Finishes a chunk that this thread judged, and of which rows have waited. */
export function settleChunk(replay: number, { number, settled }: SettledChunk): PackedChunk {
  return packedChunk(judgeOf(replay).settle(number, settled));
}

export function closeJudge(replay: number): void {
  judges.delete(replay);
}

function judgeOf(replay: number): ChunkJudge {
  const judge = judges.get(replay);
  if (judge === undefined) throw new Error(`replay ${replay} is not open here`);
  return judge;
}

const packedChunk = ({ number, verdicts, counts }: FinishedChunk): PackedChunk => ({
  number,
  counts,
  rows: verdicts.rows,
  packed: packTable(verdicts),
  summary: summariseVerdicts(verdicts),
  clients: clientBlooms(verdicts),
});
